"""Files: written whole or not at all, and never over another without being asked."""

from __future__ import annotations

import contextlib
import itertools
import os
import tempfile
import tomllib
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

from .errors import InputError


def write_whole(path: Path, data: bytes, overwrite: bool) -> None:
    """Write a file whole or not at all."""
    write_chunks(path, (data,), overwrite)


def write_chunks(path: Path, chunks: Iterable[bytes], overwrite: bool) -> None:
    """The same of a long one, piece by piece."""
    with writing(path, overwrite) as temporary, temporary.open("wb") as file:
        file.writelines(chunks)


@contextlib.contextmanager
def writing(path: Path, overwrite: bool) -> Iterator[Path]:
    """A temporary file that takes the place of ``path`` once it is written, and vanishes if it isn't."""
    if path.exists() and not overwrite:
        raise InputError(f"{path} exists already. Choose another name, or ask to overwrite it (overwrite=True; --overwrite).")
    temporary = None
    try:
        with tempfile.NamedTemporaryFile(dir=path.parent, prefix=f".{path.name}.", delete=False) as file:
            temporary = Path(file.name)
        yield temporary
        os.chmod(temporary, 0o644)
        os.replace(temporary, path)
    except OSError as error:
        raise InputError(
            f"{path} can't be written: {error.strerror or error}. Check that the folder exists and is yours to write in."
        ) from error
    finally:
        if temporary is not None:
            temporary.unlink(missing_ok=True)


def write_numbered(folder: Path, stem: str, suffix: str, data: bytes) -> Path:
    """Write a file whole under the first free number, ``stem--001``, whoever else does so at the same time."""
    try:
        with tempfile.NamedTemporaryFile(dir=folder, prefix=f".{stem}.") as file:
            file.write(data)
            file.flush()
            for number in itertools.count(1 + sum(1 for _ in folder.glob(f"{stem}--*{suffix}"))):
                path = folder / f"{stem}--{number:03d}{suffix}"
                with contextlib.suppress(FileExistsError):
                    os.link(file.name, path)
                    os.chmod(path, 0o644)
                    return path
    except OSError as error:
        raise InputError(f"{folder} can't be written to: {error.strerror or error}.") from error
    raise AssertionError


def make_folder(folder: Path) -> None:
    """Make a folder and those above it, where they are not there.

    Raises
    ------
    InputError
        If it can't be made.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise InputError(f"The folder {folder} can't be made: {error.strerror or error}.") from error


def parse_toml(text: str, where: str) -> dict[str, Any]:
    """What a TOML text says.

    Raises
    ------
    InputError
        If it is none, or is nested too deeply.
    """
    try:
        return tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        raise InputError(f"{where}: {error}.") from error
    except RecursionError:
        raise InputError(f"{where} is nested too deeply to be read.") from None


LARGEST = 20_000_000
"""Bytes that a text file may have."""


def read_text(path: Path) -> str:
    """The text of a UTF-8 file of reasonable size.

    Raises
    ------
    InputError
        If it can't be read.
    """
    try:
        if path.stat().st_size > LARGEST:
            raise InputError(f"{path} is larger than {LARGEST // 1_000_000} MB; split it.")
        return path.read_text(encoding="utf-8-sig")
    except OSError as error:
        raise InputError(f"{path} can't be read: {error.strerror or error}.") from error
    except UnicodeDecodeError as error:
        raise InputError(f"{path} is not UTF-8 text (byte {error.start}). Save it as UTF-8.") from error
