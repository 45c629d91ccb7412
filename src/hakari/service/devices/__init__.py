"""Devices that may reach a server beyond its own computer."""
