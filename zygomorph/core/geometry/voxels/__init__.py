"""Meshes as fields on a regular grid, and fields as meshes."""
