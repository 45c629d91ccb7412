"""What is kept: rows in SQLite, pictures and grounds as files by content."""
