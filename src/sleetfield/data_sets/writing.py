"""Measurements into a table that `read_data` gives back, in SI to the last digit: what holds of all points in lines that begin with #, then headings and rows."""

from __future__ import annotations

import csv
import io
from pathlib import Path

import numpy as np

from ..arguments import guarded
from ..errors import InputError
from ..files import write_whole
from ..tabular import kept_as_text
from .data_set import DataSet

_CHANGED = str.maketrans({"\n": " ", "\r": " "})


@guarded
def write_data(data: DataSet, path: str | Path, *, units: str = "SI", overwrite: bool = False) -> Path:
    """Write a set to a .csv file, in a set of units; or to a ThermoML file (.xml), which has its own.

    Raises
    ------
    InputError
        If the file exists, can't be written, or has another suffix.

    Examples
    --------
    >>> import sleetfield as sl
    >>> import pathlib, tempfile
    >>> data = sl.DataSet.of(["acetone", "1-butanol"], T="60 degC", P=["45 kPa", "68 kPa"], x=[0.3, 0.6], source="bench still")
    >>> path = sl.write_data(data, pathlib.Path(tempfile.mkdtemp()) / "still.csv")
    >>> bool((sl.read_data(path)["P"] == data["P"]).all()), sl.read_data(path).source
    (True, 'bench still')

    """
    path = Path(path)
    if path.suffix.lower() == ".xml":
        from .thermoml import write_thermoml

        return write_thermoml([data], path, overwrite=overwrite)
    if path.suffix.lower() != ".csv":
        raise InputError(f"{path} is neither .csv nor .xml (ThermoML).")
    write_whole(path, as_text(data, units).encode(), overwrite)
    return path


def as_text(data: DataSet, units: str = "SI") -> str:
    """The text of the table."""
    file = io.StringIO()
    said = {
        "source": data.source,
        "kind": data.kind,
        "components": ", ".join(data.names),
        "solid": data.solid,
        "remark": data.remark,
    }
    for key, value in said.items():
        if value:
            file.write(f"# {key}: {value.translate(_CHANGED)}\n")
    frame = data.to_frame(units)
    if not data.excluded:
        frame = frame.drop(columns="left out")
    writer = csv.writer(file, lineterminator="\n")
    writer.writerow(frame.columns)
    for row in frame.itertuples(index=False):
        writer.writerow([_cell(v) for v in row])
    return file.getvalue()


def _cell(value: object) -> str:
    if isinstance(value, (float, np.floating)):
        return "" if np.isnan(value) else repr(float(value))
    return str(kept_as_text(str(value).translate(_CHANGED)))
