"""Path-traced pictures of three-dimensional grounds with known truth, for benchmarks, tests and the demo."""
