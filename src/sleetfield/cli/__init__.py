"""The command line. One file for each command; what is heavy is imported when a command runs."""

from __future__ import annotations


def _warn(message: Warning | str, *_: object) -> None:
    """A warning as a line of its own."""
    import sys

    print(f"Warning: {message}", file=sys.stderr)


def main() -> None:
    """Entry point of the command ``sleetfield``."""
    import warnings

    from .app import app

    warnings.showwarning = _warn  # type: ignore[assignment]

    app(prog_name="sleetfield")
