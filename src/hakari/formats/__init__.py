"""The open formats: one definition for web, command line, import and export."""
