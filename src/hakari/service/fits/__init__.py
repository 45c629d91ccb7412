"""What earlier brews say of the flow."""
