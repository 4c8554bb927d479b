"""Files: written whole or not at all, and never over another without being asked."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from .errors import InputError


def write_whole(path: Path, data: bytes, overwrite: bool) -> None:
    """Write a file whole or not at all."""
    if path.exists() and not overwrite:
        raise InputError(f"{path} exists already. Choose another name, or ask to overwrite it (overwrite=True; --overwrite).")
    temporary = None
    try:
        with tempfile.NamedTemporaryFile(dir=path.parent, prefix=f".{path.name}.", delete=False) as file:
            temporary = file.name
            file.write(data)
        os.chmod(temporary, 0o644)
        os.replace(temporary, path)
    except OSError as error:
        if temporary is not None:
            Path(temporary).unlink(missing_ok=True)
        raise InputError(
            f"{path} can't be written: {error.strerror or error}. Check that the folder exists and is yours to write in."
        ) from error
