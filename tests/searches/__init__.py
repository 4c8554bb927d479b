"""Searches by the thousand for what goes wrong: each draws cases, looks at them from outside, and reports; `make fuzz` runs them, and a few draws of each are tests."""
