"""Measurements of speed and memory: ``python -m benchmarks.run`` prints one table of ratios, all from one run."""
