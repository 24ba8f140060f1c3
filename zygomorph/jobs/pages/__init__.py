"""Web pages of a loop that are one file each."""
