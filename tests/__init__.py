"""Tests, through what users call."""
