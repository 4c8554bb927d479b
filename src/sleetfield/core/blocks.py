"""Batches cut into blocks that stay in the cache, worked on one after another or by any executor."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from concurrent.futures import Executor
from typing import Any, TypeVar

import numpy as np

Result = TypeVar("Result")


def in_blocks(
    work: Callable[..., Result], arrays: Sequence[np.ndarray[Any, Any]], size: int, executor: Executor | None = None
) -> Result:
    """``work(*rows)`` over blocks of at most ``size`` rows of ``arrays``, put together again; each row's answer is as if it were alone.

    ``work`` returns a dataclass of arrays; for an executor of processes it has to be picklable. Threads gain nothing here: the operations on a
    block are so short that they wait for the interpreter's lock as long as they run without it.
    """
    cuts = [slice(i, i + size) for i in range(0, len(arrays[0]), size)]
    if len(cuts) <= 1:
        return work(*arrays)
    pieces = [tuple(a[cut] for a in arrays) for cut in cuts]
    mapped = map if executor is None else executor.map
    parts = list(mapped(work, *zip(*pieces, strict=True)))
    first = parts[0]
    fields = getattr(type(first), "__dataclass_fields__", {})
    return type(first)(**{f: np.concatenate([getattr(part, f) for part in parts]) for f in fields})
