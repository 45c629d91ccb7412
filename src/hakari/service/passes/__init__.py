"""The pass at hand and the open ones beside it: nothing that was begun is ever replaced."""
