"""The ``hakari`` command."""
