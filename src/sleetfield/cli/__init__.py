"""The command line. One file for each command; what is heavy is imported when a command runs."""

from __future__ import annotations


def main() -> None:
    """Entry point of the command ``sleetfield``."""
    from .app import app

    app(prog_name="sleetfield")
