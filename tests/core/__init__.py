"""Tests of the computation alone."""
