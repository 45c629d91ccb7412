"""The data folder: transactions, the current selection, its check."""
