"""Single points that take long: every kind of call, one state at a time, over random databank mixtures.

    python -m tests.searches.times --mixtures 200 --seed 1

A call may be answered or refused; either is timed. The first state is drawn by temperature and pressure, down to 10 K for mixtures of light gases; the other calls are
given what it has. Counted are calls over half a second (one in a thousand may take so long) and over two seconds (none may).
"""

from __future__ import annotations

import sys
import time
import warnings

import numpy as np
import scipy.optimize.elementwise  # noqa: F401 (imported when first used; no state's own time)

import sleetfield as sl

from .searching import search
from .states import random_mixture

warnings.simplefilter("error")

LIGHT = ("methane", "nitrogen", "hydrogen", "helium", "neon", "argon", "carbon monoxide", "oxygen", "ethane")
LONG, TOO_LONG = 0.5, 2.0
STATES = 3
GIVEN = [("P", "H"), ("P", "S"), ("P", "V"), ("P", "U"), ("P", "vapor_fraction"), ("T", "vapor_fraction")]
GIVEN += [("T", "H"), ("T", "S"), ("T", "V"), ("U", "V"), ("H", "S"), ("S", "V"), ("U", "S"), ("H", "V"), ("U", "H")]


def given(state, name, stretch):
    """A property by the name that a flash takes it by; stretched to what may not exist."""
    value = state.molar_volume if name == "V" else getattr(state, name)
    return value * stretch if name in ("H", "S", "V", "U") else value


def calls(system, z, state, rng):
    """Labelled calls without arguments."""
    stretch = float(rng.choice([1.0, 1.0, 1.0, 0.5, 2.0]))
    for pair in GIVEN:
        values = {name: given(state, name, stretch) for name in pair}
        yield f"flash {values!r}", lambda values=values: system.flash(z, **values)
    T, P = state.T, state.P
    for kind in ("bubble", "dew"):
        yield f"{kind} T={T!r}", lambda kind=kind: getattr(system, kind)(z, T=T)
        yield f"{kind} P={P!r}", lambda kind=kind: getattr(system, kind)(z, P=P)
    yield f"stability T={T!r} P={P!r}", lambda: system.stability(z, T=T, P=P)
    yield f"print T={T!r} P={P!r}", lambda: str(state)


def look(rng):
    """One mixture, a few states."""
    if rng.random() < 0.2:
        names = [str(n) for n in rng.choice(LIGHT, int(rng.integers(2, 5)), replace=False)]
        model, z = {"eos": "PR"}, rng.dirichlet(np.ones(len(names)), size=STATES)
        T = rng.uniform(10.0, 250.0, STATES)
    else:
        names, model, z = random_mixture(rng, STATES)
        T = rng.uniform(150.0, 650.0, STATES)
    P = 1e5 * 10.0 ** rng.uniform(-1.0, 2.5, STATES)

    def trouble(counts):
        system = sl.System(names, **model)
        found = []
        for i in range(STATES):
            state = None

            def timed(label, call, i=i):
                counts["calls"] += 1
                began = time.perf_counter()
                try:
                    answer = call()
                except sl.SleetfieldError:
                    counts["  refused"] += 1
                    answer = None
                seconds = time.perf_counter() - began
                counts["  over 0.5 s"] += seconds > LONG
                if seconds > TOO_LONG:
                    counts["  over 2 s"] += 1
                if seconds > LONG:
                    found.append(f"{seconds:.1f} s for z={z[i].tolist()!r}: {label}")
                return answer

            state = timed(f"flash T={T[i]!r} P={P[i]!r}", lambda i=i: system.flash(z[i], T=T[i], P=P[i]))
            if state is not None:
                for label, call in calls(system, z[i], state, rng):
                    timed(label, call)
        return found

    return f"System({names!r}, **{model!r})", trouble


if __name__ == "__main__":
    sys.exit(search(__doc__, "mixtures", 200, look))
