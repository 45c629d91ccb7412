"""What is being worked on now."""
