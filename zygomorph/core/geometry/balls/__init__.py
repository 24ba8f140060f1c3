"""Soft balls: a field that is high near their middles, whose level they melt into."""
