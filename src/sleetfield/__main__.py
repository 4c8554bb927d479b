"""``python -m sleetfield`` is the command ``sleetfield``."""

from .cli import main

main()
