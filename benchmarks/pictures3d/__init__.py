"""Path-traced pictures of three-dimensional grounds with known truth, for benchmarks, crops in tests and the demo's photos."""
