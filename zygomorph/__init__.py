"""Zygomorph: procedural surface animation."""

import os

# NumPy's linear algebra starts a thread for every core, which after each product waits for the next
# one by spinning, and takes its core from the kernels: a frame of 1.6 million points took twice as
# long. It has to be told before NumPy is imported.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
