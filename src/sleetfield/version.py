"""The version of this program."""

__version__ = "0.1.0"
