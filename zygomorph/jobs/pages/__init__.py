"""Read-only web pages of a loop, one HTML file each."""
