"""The shipped databank, one record a line."""
