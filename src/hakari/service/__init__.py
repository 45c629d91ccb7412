"""Use cases: one function each; where core, formats and store meet."""
