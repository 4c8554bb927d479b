"""The compiled engine is built where there is a C compiler, and left out where there is none; everything else is in pyproject.toml."""

from glob import glob

from setuptools import Extension, setup

FOLDER = "src/sleetfield/core/compiled/engine"

setup(
    ext_modules=[
        Extension(
            "sleetfield.core.compiled._engine",
            sources=sorted(glob(f"{FOLDER}/*.c")),
            depends=sorted(glob(f"{FOLDER}/*.h")),
            extra_compile_args=[
                "-O3",
                "-std=c99",
                "-ffp-contract=off",
                "-fno-math-errno",
                "-fno-trapping-math",
                "-fvisibility=hidden",
            ],
            optional=True,
        )
    ]
)
