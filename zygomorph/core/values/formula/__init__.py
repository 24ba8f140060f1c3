"""Formulas: arithmetic that an artist writes, checked against an allow-list and run over blocks."""
