"""The whole demo: the study of the Marlwick Works and its measurements, put into a folder and done there."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

from ..files import make_folder, write_whole
from ..studies import StudyRun, read_study
from ..studies.running import Progress

STUDY, RESULTS = "marlwick.toml", "results"


def run(folder: Path, overwrite: bool = False, progress: Progress | None = None) -> StudyRun:
    """Write the study and its measurements into ``folder``, and do it into ``folder/results``.

    Raises
    ------
    InputError
        If the folder can't be made, or holds a file that may not be overwritten.

    """
    make_folder(folder)
    for source in resources.files("sleetfield.demo").iterdir():
        if source.name.endswith((".csv", ".toml")):
            write_whole(folder / source.name, source.read_bytes(), overwrite)
    return read_study(folder / STUDY).run(folder / RESULTS, overwrite=overwrite, progress=progress)
