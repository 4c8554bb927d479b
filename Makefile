PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
FUZZ_STATES ?= 100000
FUZZ_ENVELOPES ?= 200
FUZZ_BINARIES ?= 500
FUZZ_TERNARIES ?= 100
FUZZ_PAIRS ?= 200
FUZZ_CRITICAL ?= 300
FUZZ_READING ?= 100
FUZZ_TRIANGLES ?= 50
FUZZ_DEVIATIONS ?= 500
FUZZ_COLD ?= 100
FUZZ_SOLIDS ?= 40
FUZZ_FITS ?= 300
FUZZ_STUDIES ?= 500
FUZZ_CALLS ?= 20000
FUZZ_FILES ?= 2000
REPETITIONS ?= 500

.PHONY: demo test lowest check bench fuzz coverage docs screenshots clean

demo: $(VENV)/.installed
	$(BIN)/sleetfield demo --folder marlwick-demo --overwrite

test: $(VENV)/.installed-dev
	$(BIN)/python -m pytest -n auto

# a part of the tests with the lowest versions that the ranges of the dependencies allow
LOWEST_TESTS = tests/test_hostile_input.py tests/test_book_problems.py tests/test_engineers_way.py tests/test_units_and_compositions.py tests/test_export.py tests/test_shown.py
lowest: $(VENV)/.installed-dev
	$(PYTHON) -m venv --clear .venv-lowest
	$(BIN)/python tools/lowest.py > .venv-lowest/constraints.txt
	.venv-lowest/bin/python -m pip install --quiet -r .venv-lowest/constraints.txt
	PYTHONPATH=src .venv-lowest/bin/python -m pytest -q -n auto -W ignore::DeprecationWarning $(LOWEST_TESTS)

check: $(VENV)/.installed-dev
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports
	$(BIN)/sleetfield components audit
	NO_MKDOCS_2_WARNING=1 $(BIN)/mkdocs build --strict --quiet

bench: $(VENV)/.installed
	$(BIN)/python benchmarks/bench.py

fuzz: $(VENV)/.installed
	$(BIN)/python benchmarks/fuzz.py --states $(FUZZ_STATES)
	$(BIN)/python benchmarks/fuzz_envelopes.py --mixtures $(FUZZ_ENVELOPES)
	$(BIN)/python benchmarks/fuzz_liquids.py --binaries $(FUZZ_BINARIES) --ternaries $(FUZZ_TERNARIES)
	$(BIN)/python benchmarks/fuzz_diagrams.py --pairs $(FUZZ_PAIRS)
	$(BIN)/python benchmarks/fuzz_critical_region.py --mixtures $(FUZZ_CRITICAL)
	$(BIN)/python benchmarks/fuzz_reading.py --mixtures $(FUZZ_READING)
	$(BIN)/python benchmarks/fuzz_triangles.py --triangles $(FUZZ_TRIANGLES)
	$(BIN)/python benchmarks/fuzz_deviations.py --pairs $(FUZZ_DEVIATIONS)
	$(BIN)/python benchmarks/fuzz_cold.py --mixtures $(FUZZ_COLD)
	$(BIN)/python benchmarks/fuzz_solids.py --mixtures $(FUZZ_SOLIDS)
	$(BIN)/python benchmarks/fuzz_regression.py --fits $(FUZZ_FITS)
	$(BIN)/python benchmarks/fuzz_studies.py --studies $(FUZZ_STUDIES)
	$(BIN)/python benchmarks/fuzz_calls.py --calls $(FUZZ_CALLS)
	$(BIN)/python benchmarks/fuzz_files.py --files $(FUZZ_FILES)

coverage: $(VENV)/.installed
	$(BIN)/python benchmarks/coverage.py --repetitions $(REPETITIONS)

docs: $(VENV)/.installed-dev
	NO_MKDOCS_2_WARNING=1 $(BIN)/mkdocs build --strict --quiet
	@echo "Open site/index.html"

screenshots: $(VENV)/.installed
	$(BIN)/python docs/make_screenshots.py

$(VENV)/.created:
	$(PYTHON) -m venv $(VENV)
	touch $@

$(VENV)/.installed: $(VENV)/.created pyproject.toml
	$(BIN)/python -m pip install --quiet --editable .
	touch $@

$(VENV)/.installed-dev: $(VENV)/.created pyproject.toml
	$(BIN)/python -m pip install --quiet --editable '.[dev]'
	touch $@ $(VENV)/.installed

clean:
	rm -rf $(VENV) build dist site marlwick-demo .pytest_cache .mypy_cache .ruff_cache .hypothesis
