"""Executors whose workers may die, or that take no work any more."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from typing import TYPE_CHECKING

from ..errors import CalculationError, InputError

if TYPE_CHECKING:
    from concurrent.futures import Executor


@contextlib.contextmanager
def whole_workers(executor: Executor | None) -> Iterator[None]:
    """Work on an executor; where one of its workers dies, or it is shut down already, that is said.

    Raises
    ------
    CalculationError
        If a worker died.
    InputError
        If the executor takes no work.
    """
    if executor is None:
        yield
        return
    from concurrent.futures import BrokenExecutor

    try:
        yield
    except BrokenExecutor as error:
        raise CalculationError(
            "A worker of the executor ended before its block was done: it was stopped from outside, or ran out of memory. "
            "Make a new executor, with fewer workers if memory is short, and call again."
        ) from error
    except RuntimeError as error:
        if "shutdown" not in str(error):
            raise
        raise InputError("The executor is shut down and takes no work. Call inside its with block.") from error
