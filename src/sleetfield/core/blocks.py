"""Batches as dataclasses of arrays: cut into blocks that stay in the cache, taken and put row by row."""

from __future__ import annotations

import functools
import os
import threading
from collections.abc import Callable, Sequence
from dataclasses import fields, is_dataclass
from typing import TYPE_CHECKING, Any, TypeVar

import numpy as np
from numpy.typing import NDArray

if TYPE_CHECKING:
    from concurrent.futures import Executor

Result = TypeVar("Result")


def in_blocks(
    work: Callable[..., Result], arrays: Sequence[np.ndarray[Any, Any]], size: int, executor: Executor | None = None
) -> Result:
    """``work(*rows)`` over blocks of at most ``size`` rows of ``arrays``, put together again; each row's answer is as if it were alone.

    ``work`` returns a dataclass of arrays, or of such dataclasses; for an executor of processes it has to be picklable. Threads gain nothing
    but in the compiled engine: operations on arrays are so short that they wait for the interpreter's lock as long as they run without it.
    """
    cuts = [slice(i, i + size) for i in range(0, len(arrays[0]), size)]
    if len(cuts) <= 1:
        return work(*arrays)
    pieces = [tuple(a[cut] for a in arrays) for cut in cuts]
    mapped = map if executor is None else executor.map
    parts = list(mapped(work, *zip(*pieces, strict=True)))
    joined: Result = _joined(parts)
    return joined


THREADED = 256
"""As many states, and more, are shared out among threads."""
_TURNS = 8
"""Blocks that each thread takes at least, where these are small: states differ in what they cost."""


def in_threads(work: Callable[..., Result], arrays: Sequence[np.ndarray[Any, Any]], size: int = THREADED) -> Result:
    """The same for work that does without the interpreter's lock: in as many threads as this process has cores, where there is more than one block of it."""
    if len(arrays[0]) <= size or getattr(_HERE, "in_pool", False):
        return work(*arrays)
    cores = len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count() or 1
    # of many rows a block is larger: to hand over a few costs as much as they do
    size = max(size, min(THREADED, len(arrays[0]) // (_TURNS * cores)))
    return in_blocks(work, arrays, size, _pool(os.getpid(), cores))


_HERE = threading.local()
"""Whether this thread is one of the pool's, whose work is not cut up again: it would wait for itself."""


@functools.lru_cache(maxsize=1)
def _pool(process: int, cores: int) -> Executor:
    """Threads are kept, as it takes as long to start some as to flash a dozen states; a process that was forked has none of its parent's."""
    from concurrent.futures import ThreadPoolExecutor

    return ThreadPoolExecutor(cores, initializer=_mark)


def _mark() -> None:
    _HERE.in_pool = True


def _joined(parts: Sequence[Any]) -> Any:
    first: Any = parts[0]
    if not is_dataclass(first):
        return np.concatenate(parts)
    kind: Any = type(first)
    return kind(**{f.name: _joined([getattr(part, f.name) for part in parts]) for f in fields(first)})


def take_rows(batch: Result, index: NDArray[np.intp]) -> Result:
    """The rows ``index`` of a dataclass of arrays."""
    whole: Any = batch
    taken: Result = (
        type(whole)(**{f.name: take_rows(getattr(whole, f.name), index) for f in fields(whole)})
        if is_dataclass(batch)
        else whole[index]
    )
    return taken


def put_rows(batch: Any, index: NDArray[np.intp], part: Any) -> None:
    """Write ``part`` into the rows ``index`` of a dataclass of arrays."""
    if not is_dataclass(batch):
        batch[index] = part
        return
    for f in fields(batch):
        put_rows(getattr(batch, f.name), index, getattr(part, f.name))
