"""Pictures by path tracing while the artist works: a process draws them, finer and finer."""
