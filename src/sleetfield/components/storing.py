"""Components put into the user's or the case's folder, and taken out again."""

from __future__ import annotations

import re
from collections.abc import Iterable
from pathlib import Path

from ..arguments import guarded
from ..errors import InputError, UnknownComponentError
from ..files import each_readable, locked, write_whole
from .audit import audit
from .component import IDENTITY, Component
from .databank import USER, databank, folder_records, layer_folder, name_key
from .record import Record, record_of
from .toml_records import as_toml, records_in


@guarded
def store_component(component: Component, layer: str = USER, *, insist: bool = False, overwrite: bool = False) -> Path:
    """Put a component into the databank for later: the values in which it differs from the layers below.

    Parameters
    ----------
    component : Component
        New, or a ``changed`` one of the databank.
    layer : {"user", "case"}
        The user's folder, or the folder ``sleetfield-components`` where one works, which goes before it.
    insist : bool
        Store it although the audit finds fault with it.
    overwrite : bool
        Whether a record that the layer already has of it may be replaced.

    Returns
    -------
    Path
        The TOML file written.

    Raises
    ------
    InputError
        If the audit finds fault with it, nothing differs, the layer has a record of it already, or the file can't be written.

    Examples
    --------
    >>> import sleetfield as sl
    >>> try:
    ...     sl.store_component(sl.databank().find("acetone").changed(omega=0.5, source="a guess"))
    ... except sl.InputError as error:
    ...     print(error)
    acetone is not stored. acentric factor: vapor pressure at 0.7 Tc gives 0.307, not 0.500; second reading of acentric factor: 0.5, but 0.30062 by Lee and Kesler's equation (1975), from IUPAC reviews of critical data (1995 to 2001) and reference equations of gases. Mend it, or insist (insist=True; --insist).

    """
    return store_components([component], layer, insist=insist, overwrite=overwrite)[0]


@guarded
def store_components(
    components: Iterable[Component], layer: str = USER, *, insist: bool = False, overwrite: bool = False
) -> list[Path]:
    """Several components as `store_component` does it: all are checked before the first is written; those that say nothing new are passed over.

    Raises
    ------
    InputError
        As for `store_component`; then none is stored.
    """
    folder, given = layer_folder(layer), list(components)
    for component in given:
        _audited(component, insist)
    with locked(folder):
        return _stored(given, layer, folder, overwrite)


def _stored(components: Iterable[Component], layer: str, folder: Path, overwrite: bool) -> list[Path]:
    checked = [_placed(component, layer, folder, overwrite) for component in components]
    ready = [(path, record) for path, record in checked if record.values or record.identity]
    if not ready:
        names = ", ".join(record.name for _, record in checked)
        raise InputError(f"There is nothing to store: the databank says all of it already of {names or 'no component'}.")
    paths = [path for path, _ in ready]
    if len(set(paths)) < len(paths):
        raise InputError("Two of the components would go into one file. Give them names that differ by more than signs.")
    for path, record in ready:
        write_whole(path, as_toml([record]).encode(), overwrite=overwrite)
    return paths


def _audited(component: Component, insist: bool) -> None:
    """An error where the audit finds fault with a component, and nobody insists."""
    faults = [f for f in audit([component]) if not f.reason]
    if faults and not insist:
        reasons = "; ".join(f"{f.check}: {f.message}" for f in faults)
        raise InputError(f"{component.name} is not stored. {reasons}. Mend it, or insist (insist=True; --insist).")


def _placed(component: Component, layer: str, folder: Path, overwrite: bool) -> tuple[Path, Record]:
    """Where a component will go, and what will be written of it; an error where it may not."""
    record = _difference(component, layer)
    path = folder / f"{_file_name(component.name)}.toml"
    home = _home(folder, component.name)
    if home is not None and home != path:
        raise InputError(f"{component.name} stands in {home} among others. Change it there.")
    if path.exists() and not overwrite:
        raise InputError(
            f"The {layer} layer has {component.name} already, in {path}. To replace it, overwrite it (overwrite=True; --overwrite)."
        )
    return path, record


@guarded
def remove_component(name: str, layer: str = USER) -> Path:
    """Take a component out of the user's or the case's folder; what the layers below say of it holds again.

    Raises
    ------
    UnknownComponentError
        If the layer does not have it.
    InputError
        If its file holds other components too.
    """
    folder = layer_folder(layer)
    path = _home(folder, name)
    if path is None:
        have = ", ".join(r for r in (folder_records(folder) if folder.is_dir() else ())) or "nothing"
        raise UnknownComponentError(f"The {layer} layer has no component {name!r}; it has {have}.")
    if _count(path) > 1:
        raise InputError(f"{path} holds other components too. Take {name} out of it there.")
    with locked(folder):
        path.unlink(missing_ok=True)
    return path


def _count(path: Path) -> int:
    """Components in a file; none in a damaged one."""
    try:
        return len(records_in(path))
    except InputError:
        return 0


def _difference(component: Component, layer: str) -> Record:
    """What a component says that the layers below don't."""
    whole = record_of(component)
    below = databank().below(layer, component.name)
    if below is None:
        return whole
    old = record_of(below)
    identity = {k: getattr(component, k) for k in IDENTITY if getattr(component, k) != getattr(below, k)}
    values = {k: v for k, v in whole.values.items() if old.values.get(k) != v or old.sources[k] != whole.sources[k]}
    return Record(below.name, identity, values, {k: whole.sources[k] for k in values})


def _home(folder: Path, name: str) -> Path | None:
    """The file of a folder that has a component; a damaged one by its file's name."""
    for path, records in each_readable(folder, ".toml", records_in):
        if any(name_key(record.name) == name_key(name) for record in records):
            return path
    own = folder / f"{_file_name(name)}.toml"
    return own if own.exists() else None


def _file_name(name: str) -> str:
    """A component's name as a file name: letters, digits and hyphens, and what tells apart names that would be alike."""
    plain = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")
    return plain[:80] or f"component-{sum(ord(c) * 31**i for i, c in enumerate(name)) % 10**9}"
