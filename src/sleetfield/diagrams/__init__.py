"""Figures. They draw plain arrays in SI, and know nothing of systems or results."""
