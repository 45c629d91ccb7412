"""Hakari: from a photo of ground coffee to the next click on your own grinder."""

import os

# Matrices are small here: threads of the linear algebra library wait for each other longer than they compute, and keep their
# processor busy meanwhile. It reads this when numpy is first imported.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
