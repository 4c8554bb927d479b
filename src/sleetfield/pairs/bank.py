"""The bank of binary parameters of every model family, in layers: shipped, then the user's folder, then the case's; the later one wins.

A record is a pair's `PairParameters` for a model. In a folder each record is a TOML file of its own, written whole, so that two processes
that store at the same time can't spoil each other's:

    [[pair]]
    model = "NRTL"
    components = ["ethanol", "water"]
    a12 = -55.17                           # like sl.PairParameters
    a21 = 670.4
    alpha = 0.3
    form = "K"
    source = "lab 2"
    T_min = 330.0
    T_max = 373.0

Nothing that a file says is evaluated. What is shipped is `data/kij.csv` and `data/activity_parameters.csv`.
"""

from __future__ import annotations

import datetime
import functools
import re
from collections.abc import Iterable, Mapping
from dataclasses import fields, replace
from pathlib import Path
from typing import Any, NamedTuple

from ..arguments import guarded
from ..components.databank import CASE, SHIPPED, USER, databank, folder_of, folder_state, numbers, read_table, source_text
from ..errors import InputError, UnknownComponentError
from ..files import each_readable, locked, make_folder, parse_toml, read_text, write_numbered, write_whole
from .of_temperature import written
from .pair_parameters import PairParameters, pair_parameters

FOLDER_VARIABLE = "SLEETFIELD_PAIRS"
EARLIER = "earlier"
"""Where a folder keeps what was replaced."""
_CM3 = 1e-6
_FIELDS = tuple(f.name for f in fields(PairParameters) if f.name not in ("layer", "gamma_infinity", "azeotrope"))

Sets = dict[tuple[str, str], tuple[PairParameters, ...]]


class PairRecord(NamedTuple):
    """Parameters of a model for a pair, in the order of its names."""

    model: str
    first: str
    second: str
    parameters: PairParameters


# ---- what is there ----


def layer_folder(layer: str) -> Path:
    """The folder of the "user" layer (see `FOLDER_VARIABLE` to have it elsewhere) or the "case" layer (``sleetfield-pairs`` in the working folder)."""
    return folder_of(layer, "pairs", FOLDER_VARIABLE)


@functools.cache
def _shipped() -> dict[str, Sets]:
    found: dict[str, Sets] = {}

    def add(model: str, first: str, second: str, one: PairParameters) -> None:
        sets = found.setdefault(model, {})
        sets[first, second] = (*sets.get((first, second), ()), one)

    for r in read_table("kij.csv"):
        one = PairParameters(kij=written(r["kij"]), source=source_text(r["source"]), layer=SHIPPED)
        for equation in r["equation"].split(" | "):
            add(equation, r["first"], r["second"], one)
    for r in read_table("activity_parameters.csv"):
        volumes = (float(r["v1_cm3"]) * _CM3, float(r["v2_cm3"]) * _CM3) if r["v1_cm3"] else None
        one = PairParameters(
            a12=numbers(r["a12"]),
            a21=numbers(r["a21"]),
            alpha=float(r["alpha"]) if r["alpha"] else None,
            form=r["form"],
            volumes=volumes,
            T_min=float(r["T_min"]),
            T_max=float(r["T_max"]),
            source=source_text(r["source"]),
            layer=SHIPPED,
        )
        add(r["model"], r["first"], r["second"], one)
    return found


def published_parameters(model: str) -> Sets:
    """What the bank has for a model, by ordered pair of names; where there are several sets, the first is the one to take.

    Examples
    --------
    >>> published_parameters("van Laar")["ethanol", "water"][0].a12
    1.6798

    """
    folders = {layer: layer_folder(layer) for layer in (USER, CASE)}
    return _overlaid(model, tuple((layer, folder, folder_state(folder)) for layer, folder in folders.items()))


@functools.lru_cache(maxsize=64)
def _overlaid(model: str, folders: tuple[tuple[str, Path, tuple[Any, ...]], ...]) -> Sets:
    found: Sets = dict(_shipped().get(model, {}))
    for layer, folder, state in folders:
        for record in _in_folder(folder, layer) if state else ():
            if record.model == model:
                before = found.pop((record.second, record.first), ())
                kept = (*found.get((record.first, record.second), ()), *(p.swapped() for p in before))
                found[record.first, record.second] = (record.parameters, *kept)
    return found


def set_of(sets: Sets, first: str, second: str) -> PairParameters | None:
    """The set to take for a pair, in the order asked for.

    Examples
    --------
    >>> set_of(published_parameters("van Laar"), "water", "ethanol").a12
    0.9227

    """
    if (first, second) in sets:
        return sets[first, second][0]
    return sets[second, first][0].swapped() if (second, first) in sets else None


@guarded
def pair_records(model: str | None = None, *components: str, layer: str | None = None) -> list[PairRecord]:
    """The records of the bank, those that win first: of a model, of one or two components, of a layer.

    Examples
    --------
    >>> import sleetfield as sl
    >>> [r.parameters.kij for r in sl.pair_records("PR", "methane", "nitrogen")]
    [0.0311]

    """
    wanted = {databank().find(c).name for c in components}
    models = [model] if model is not None else [*_shipped(), *_models_in_folders()]
    return [
        PairRecord(name, first, second, one)
        for name in dict.fromkeys(models)
        for (first, second), sets in published_parameters(name).items()
        for one in sets
        if wanted <= {first, second} and layer in (None, one.layer)
    ]


def _models_in_folders() -> list[str]:
    return [r.model for layer in (USER, CASE) for r in _in_folder(layer_folder(layer), layer)]


# ---- files ----


def _in_folder(folder: Path, layer: str) -> list[PairRecord]:
    records = [r for _, found in each_readable(folder, ".toml", read_pairs) for r in found]
    return [r._replace(parameters=replace(r.parameters, layer=layer)) for r in records]


@guarded
def read_pairs(path: str | Path) -> list[PairRecord]:
    """The records of a TOML file of ``[[pair]]`` tables.

    Raises
    ------
    InputError
        If it can't be read, or a table is not understood, with the table's number.
    """
    path = Path(path)
    content = parse_toml(read_text(path), str(path))
    tables = content.get("pair")
    if set(content) != {"pair"} or not isinstance(tables, list):
        raise InputError(f"{path} must hold [[pair]] tables alone.")
    return [_record(table, f"{path}, pair {i}") for i, table in enumerate(tables, start=1)]


def _record(table: Any, where: str) -> PairRecord:
    names = table.get("components") if isinstance(table, dict) else None
    if not isinstance(names, list) or len(names) != 2 or not all(isinstance(n, str) for n in names):
        raise InputError(f"{where}: components is {names!r}; it is a list of two names.")
    if not isinstance(table.get("model"), str):
        raise InputError(f"{where} names no model.")
    rest = {k: v for k, v in table.items() if k not in ("model", "components")}
    strange = [k for k in rest if k not in _FIELDS]
    if strange:
        raise InputError(f"{where}: there is no {strange[0]!r}; there are model, components, {', '.join(_FIELDS)}.")
    try:
        parameters = PairParameters(**rest).checked()
    except (TypeError, ValueError) as error:
        raise InputError(f"{where}: {error}") from error
    return PairRecord(table["model"], names[0], names[1], parameters)


def _as_toml(records: Iterable[PairRecord]) -> bytes:
    import tomli_w

    tables = [
        {"model": r.model, "components": [r.first, r.second], **{k: v for k, v in r.parameters.to_dict().items() if k in _FIELDS}}
        for r in records
    ]
    return tomli_w.dumps({"pair": tables}).encode()


@guarded
def write_pairs(records: Iterable[PairRecord], path: str | Path, *, overwrite: bool = False) -> Path:
    """Write records to a TOML file that `read_pairs` reads.

    Raises
    ------
    InputError
        If the file exists or can't be written.
    """
    path = Path(path)
    write_whole(path, _as_toml(records), overwrite)
    return path


# ---- putting in and taking out ----


@guarded
def store_pair(
    model: str, pair: tuple[str, str], parameters: PairParameters | Mapping[str, Any], layer: str = USER, *, overwrite: bool = False
) -> Path:
    """Keep a pair's parameters for later: every system that takes the bank's gets them.

    Parameters
    ----------
    model : str
        Such as "NRTL", or "PR" for an interaction parameter.
    pair : two names
        In the order of the parameters.
    parameters : PairParameters or mapping of its fields
        What is kept.
    layer : {"user", "case"}
        The user's folder, or the folder ``sleetfield-pairs`` where one works, which goes before it.
    overwrite : bool
        Whether what the layer has of this pair and model may be replaced; it is kept as an earlier version (`earlier_pairs`).

    Returns
    -------
    Path
        The TOML file written.

    Raises
    ------
    UnknownComponentError
        If a name is not in the databank.
    InputError
        If the layer has a record of it already, or the file can't be written.
    """
    return store_pairs([PairRecord(model, *pair, pair_parameters(parameters, pair))], layer, overwrite=overwrite)[0]


@guarded
def store_pairs(records: Iterable[PairRecord], layer: str = USER, *, overwrite: bool = False) -> list[Path]:
    """Several records as `store_pair` does it; all are checked before the first is written."""
    folder = layer_folder(layer)
    with locked(folder):
        return _stored(records, layer, folder, overwrite)


def _stored(records: Iterable[PairRecord], layer: str, folder: Path, overwrite: bool) -> list[Path]:
    today = datetime.date.today().isoformat()
    ready: list[tuple[Path, PairRecord]] = []
    for r in records:
        first, second = (databank().find(name).name for name in (r.first, r.second))
        if first == second:
            raise InputError(f"The pair is {first} twice; parameters are between two.")
        path = folder / _file_name(r.model, first, second)
        if path.exists() and not overwrite:
            raise InputError(
                f"The {layer} layer has {r.model} of {first} and {second} already, in {path}. To replace it, overwrite it (overwrite=True; --overwrite)."
            )
        one = replace(r.parameters.checked(), date=r.parameters.date or today)
        if path in dict(ready):
            raise InputError(f"{r.model} of {first} and {second} is there twice. Leave one of the two out.")
        ready.append((path, PairRecord(r.model, first, second, one)))
    for path, record in ready:
        _keep_earlier(path)
        write_whole(path, _as_toml([record]), overwrite)
    return [path for path, _ in ready]


def _keep_earlier(path: Path) -> None:
    """A copy of what is to be replaced, numbered, in the folder `EARLIER`."""
    try:
        before = path.read_bytes()
    except FileNotFoundError:
        return
    folder = path.parent / EARLIER
    make_folder(folder)
    write_numbered(folder, path.stem, ".toml", before)


@guarded
def earlier_pairs(model: str, pair: tuple[str, str], layer: str = USER) -> list[PairRecord]:
    """What the user's or the case's folder had of a pair before it was replaced, the oldest first; stored again, one of them holds again."""
    first, second = (databank().find(name).name for name in pair)
    stem = Path(_file_name(model, first, second)).stem
    paths = sorted((layer_folder(layer) / EARLIER).glob(f"{stem}--*.toml"))
    return [r for path in paths for r in read_pairs(path)]


@guarded
def remove_pair(model: str, pair: tuple[str, str], layer: str = USER) -> Path:
    """Take a pair's parameters out of the user's or the case's folder; what the layers below say of it holds again. They are kept as an earlier version.

    Raises
    ------
    UnknownComponentError
        If the layer does not have them.
    """
    first, second = (databank().find(name).name for name in pair)
    folder = layer_folder(layer)
    path = folder / _file_name(model, first, second)
    if not path.exists():
        raise UnknownComponentError(f"The {layer} layer has no {model} parameters of {first} and {second}.")
    with locked(folder):
        _keep_earlier(path)
        path.unlink(missing_ok=True)
    return path


def _file_name(model: str, first: str, second: str) -> str:
    """One file for a model and a pair in either order."""
    words = [model, *sorted((first, second))]
    return "--".join(re.sub(r"[^a-z0-9]+", "-", w.lower()).strip("-")[:60] for w in words) + ".toml"
