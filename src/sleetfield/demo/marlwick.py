"""The whole demo: every question of the Marlwick Works, answered into one folder."""

from __future__ import annotations

from pathlib import Path

from ..errors import InputError
from ..files import write_whole
from . import boiler_gas, decanter, laboratory, off_gas, solvent


def run(folder: Path, overwrite: bool = False) -> str:
    """Calculate everything, write it into ``folder``, and return the summary.

    Raises
    ------
    InputError
        If the folder can't be made, or holds a file that may not be overwritten.

    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise InputError(f"The folder {folder} can't be made: {error.strerror}. Choose another with --folder.") from error
    parts = (boiler_gas, off_gas, decanter, solvent, laboratory)
    summary = "\n".join(part.run(folder, overwrite) for part in parts)
    write_whole(folder / "summary.md", summary.encode("utf-8"), overwrite)
    return f"{summary}\nTables, figures and this summary are in {folder}/."
