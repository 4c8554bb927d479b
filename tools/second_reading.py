"""How many numbers of the databank its second reading confirms, by column: the table of docs/databank.md.

    python tools/second_reading.py

prints it.
"""

from __future__ import annotations

import sleetfield as sl
from sleetfield.components.audit import second_reading_of
from sleetfield.components.databank import read_table
from sleetfield.components.second_reading import COLUMNS, comparisons


def report() -> str:
    """The table of docs/databank.md."""
    found = [one for c in sl.databank() for one in comparisons(c)]
    still = {(r["name"], r["check"]) for r in read_table("exceptions.csv") if r["reason"].startswith("open: ")}
    lines = ["| quantity | limit | compared | beyond it | of these open |", "| --- | --- | --: | --: | --: |"]
    for column in COLUMNS:
        of = [one for one in found if one.column is column]
        beyond = [one for one in of if one.differs]
        open_yet = sum((one.component, second_reading_of(column)) in still for one in beyond)
        lines.append(f"| {column.name} | {column.limit} | {len(of)} | {len(beyond)} | {open_yet} |")
    return "\n".join(lines)


if __name__ == "__main__":
    print(report())
