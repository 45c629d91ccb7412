"""What was typed at a station and is not saved yet."""
