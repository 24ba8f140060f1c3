"""Preview renders: progressive path tracing in a process of its own while the artist works."""
