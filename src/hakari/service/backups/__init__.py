"""Everything in one file, out and in; copies and purges meanwhile."""
