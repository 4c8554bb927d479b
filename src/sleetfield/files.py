"""Files: written whole or not at all, and never over another without being asked."""

from __future__ import annotations

import contextlib
import itertools
import os
import re
import stat
import tempfile
import tomllib
import warnings
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path
from typing import Any, TypeVar

from .errors import InputError, SleetfieldWarning

T = TypeVar("T")


def write_whole(path: Path, data: bytes, overwrite: bool) -> None:
    """Write a file whole or not at all."""
    write_chunks(path, (data,), overwrite)


def write_chunks(path: Path, chunks: Iterable[bytes], overwrite: bool) -> None:
    """The same of a long one, piece by piece."""
    with writing(path, overwrite) as temporary, temporary.open("wb") as file:
        file.writelines(chunks)


@contextlib.contextmanager
def writing(path: Path, overwrite: bool) -> Iterator[Path]:
    """A temporary file that takes the place of ``path`` once it is written, and vanishes if it isn't; what a link leads to is replaced, not the link."""
    temporary = None
    try:
        if path.exists() and not overwrite:
            raise InputError(f"{path} exists already. Choose another name, or ask to overwrite it (overwrite=True; --overwrite).")
        target = path.resolve()
        mode = stat.S_IMODE(target.stat().st_mode) if target.exists() else 0o644
        with tempfile.NamedTemporaryFile(dir=target.parent, prefix=f".{target.name[:40]}.", delete=False) as file:
            temporary = Path(file.name)
        yield temporary
        os.chmod(temporary, mode)
        os.replace(temporary, target)
    except (OSError, RuntimeError, UnicodeError) as error:
        raise InputError(
            f"{path} can't be written: {getattr(error, 'strerror', None) or error}. Check that the folder exists and is yours to write in."
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


_PATIENCE = 30.0
"""Seconds that a folder may be kept by another process."""


@contextlib.contextmanager
def locked(folder: Path) -> Iterator[None]:
    """A folder that no other process changes meanwhile; it is made where it is not there.

    Raises
    ------
    InputError
        If it can't be made, or another process keeps it for too long.
    """
    from filelock import FileLock, Timeout

    make_folder(folder)
    try:
        with FileLock(folder / ".lock", timeout=_PATIENCE):
            yield
    except Timeout as error:
        raise InputError(f"{folder} is being changed by another process. Try again when that is done.") from error
    except OSError as error:
        raise InputError(f"{folder} can't be written to: {error.strerror or error}.") from error


def each_readable(folder: Path, suffix: str, read: Callable[[Path], T]) -> Iterator[tuple[Path, T]]:
    """The files of a folder and what ``read`` makes of each; a damaged one is passed over with a warning, and what is no file without."""
    for path in sorted(folder.glob(f"*{suffix}")):
        if not path.is_file():
            continue
        try:
            yield path, read(path)
        except InputError as error:
            warnings.warn(f"{path} is passed over: {error}", SleetfieldWarning, stacklevel=3)


_DEEPEST = 50
_DEEP = re.compile(
    rf"""(?<![A-Za-z0-9_"'-])(?:(?:[A-Za-z0-9_-]{{1,99}}|"[^"\n]{{0,99}}"|'[^'\n]{{0,99}}')[ \t]{{0,9}}\.[ \t]{{0,9}}){{{_DEEPEST}}}"""
)


def parse_toml(text: str, where: str) -> dict[str, Any]:
    """What a TOML text says.

    Raises
    ------
    InputError
        If it is none, or is nested too deeply.
    """
    if len(text) > LARGEST_TOML:
        raise InputError(f"{where} is larger than {LARGEST_TOML // 1_000_000} MB; split it.")
    if _DEEP.search(text):
        raise InputError(f"{where} has a key of more than {_DEEPEST} parts, which is nested too deeply to be read.")
    try:
        return tomllib.loads(text)
    except ValueError as error:
        raise InputError(f"{where}: {error}.") from error
    except RecursionError:
        raise InputError(f"{where} is nested too deeply to be read.") from None


LARGEST = 20_000_000
"""Bytes that a file read at once may have."""
LARGEST_TOML = 2_000_000
"""What its reader is through with in a second or two, whatever it holds."""


def check_file(path: Path) -> None:
    """Refuse what is no file to read: a folder, a named pipe, a device.

    Raises
    ------
    InputError
        If it is none, or is not there.
    """
    try:
        mode = path.stat().st_mode
    except (OSError, ValueError) as error:
        raise InputError(f"{path} can't be read: {getattr(error, 'strerror', None) or error}.") from error
    if not stat.S_ISREG(mode):
        raise InputError(f"{path} is no file: a {'folder' if stat.S_ISDIR(mode) else 'pipe or device'} can't be read.")


def read_text(path: Path, most: int = LARGEST) -> str:
    """The text of a UTF-8 file of at most so many bytes.

    Raises
    ------
    InputError
        If it can't be read.
    """
    check_file(path)
    try:
        if path.stat().st_size > most:
            raise InputError(f"{path} is larger than {most // 1_000_000} MB; split it.")
        return path.read_text(encoding="utf-8-sig")
    except OSError as error:
        raise InputError(f"{path} can't be read: {error.strerror or error}.") from error
    except UnicodeDecodeError as error:
        raise InputError(f"{path} is not UTF-8 text (byte {error.start}). Save it as UTF-8.") from error
