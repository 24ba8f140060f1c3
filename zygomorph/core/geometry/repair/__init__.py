"""What can be wrong with a mesh that was brought in, and how it is put right."""
