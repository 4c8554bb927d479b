"""The loop that random searches share: draw, look, count, report."""

from __future__ import annotations

import argparse
import contextlib
import math
import os
import tempfile
import time
from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any
from unittest import mock

import numpy as np

Look = Callable[[Any], tuple[str, Callable[[Counter[str]], list[str]]]]
"""Draws a case from a generator: its label, and what counts and returns the trouble that it has."""


@contextlib.contextmanager
def own_folders() -> Iterator[None]:
    """A working folder, and folders of components, pairs and data, that vanish again."""
    with tempfile.TemporaryDirectory() as name, contextlib.chdir(name), mock.patch.dict(os.environ):
        for kind in ("COMPONENTS", "PAIRS", "DATA"):
            os.environ[f"SLEETFIELD_{kind}"] = str(Path(name) / kind)
        yield


def search(description: str | None, things: str, default: int, look: Look, seconds: float = math.inf) -> int:
    """Run from the command line's ``--things`` and ``--seed``, and report; status 1 where there was any trouble.

    A case that takes more than ``seconds`` is one. The tests, which draw a few cases on whatever machine, don't time them.
    """
    parser = argparse.ArgumentParser(description=description)
    parser.add_argument(f"--{things}", type=int, default=default)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--minutes", type=float, default=float("inf"), help="begin no further case after this long")
    args = parser.parse_args()
    rng = np.random.default_rng(args.seed)
    counts: Counter[str] = Counter()
    examples: list[str] = []
    began = time.perf_counter()
    for _ in range(getattr(args, things)):
        if time.perf_counter() - began > 60.0 * args.minutes:
            break
        counts[things] += 1
        label, trouble_of = look(rng)
        start = time.perf_counter()
        try:
            trouble = trouble_of(counts)
        except Exception as error:  # whatever it is, it is what we look for
            counts["exceptions"] += 1
            trouble = [f"{type(error).__name__}: {error}"]
        took = time.perf_counter() - start
        trouble += [f"{took:.0f} s"] if took > seconds else []
        examples += [f"{label}: {t}" for t in trouble]
    for key, value in counts.items():
        print(f"{key:34s} {value}")
    print(f"{'seconds':34s} {time.perf_counter() - began:.0f}")
    for example in examples[:60]:
        print(example)
    return 1 if examples else 0
