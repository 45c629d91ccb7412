"""Benchmarks: accuracy and speed of measuring, and the screenshots of the documentation."""
