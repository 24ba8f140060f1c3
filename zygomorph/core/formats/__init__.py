"""Files of open formats, read and written."""
