"""Experiments and drills at the bench: designs, exact tests, intervals; stands alone."""
