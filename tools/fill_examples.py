"""Runs the examples of the guide and writes what they print below them: `python tools/fill_examples.py docs/guide/*.md docs/index.md`.

A page's examples share their names. The tests hold every page against what its examples print.
"""

from __future__ import annotations

import contextlib
import doctest
import io
import os
import sys
import tempfile
from pathlib import Path

DATA = Path(__file__).parent.parent / "src" / "sleetfield" / "demo"


def filled(text: str) -> str:
    """The page with the output of every example as it is now."""
    lines, names, found = text.splitlines(keepends=True), {}, []
    examples = doctest.DocTestParser().get_examples(text)
    for example in examples:
        buffer = io.StringIO()
        with contextlib.redirect_stdout(buffer):
            exec(compile(example.source, "example", "single"), names)
        found.append(buffer.getvalue())
    for example, output in reversed(list(zip(examples, found, strict=True))):
        indent = " " * example.indent
        first = example.lineno + example.source.count("\n")
        last = first + example.want.count("\n")
        told = (
            "".join(f"{indent}{line}\n" if line.strip() else f"{indent}<BLANKLINE>\n" for line in output.rstrip("\n").split("\n"))
            if output
            else ""
        )
        lines[first:last] = [told] if told else []
    return "".join(lines)


def main() -> None:
    """Each page of the command line."""
    pages = [Path(name).resolve() for name in sys.argv[1:]]
    for page in pages:
        with tempfile.TemporaryDirectory() as folder, contextlib.chdir(folder):
            for source in DATA.glob("*.csv"):
                (Path(folder) / source.name).write_bytes(source.read_bytes())
            os.environ["COLUMNS"] = "100"
            page.write_text(filled(page.read_text(encoding="utf-8")), encoding="utf-8")
            print(page)


if __name__ == "__main__":
    main()
