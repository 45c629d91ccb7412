"""Sources of what is measured at the bench: one protocol, and a simulated stand-in that ships with the program."""
