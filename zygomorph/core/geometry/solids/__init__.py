"""Closed meshes as solids: cut with each other, and broken into shards."""
