PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
FUZZ_STATES ?= 100000
FUZZ_ENVELOPES ?= 200
FUZZ_BINARIES ?= 500
FUZZ_TERNARIES ?= 100
FUZZ_DEWS ?= 500
FUZZ_PAIRS ?= 200
FUZZ_CRITICAL ?= 300
FUZZ_READING ?= 100
FUZZ_TRIANGLES ?= 50
FUZZ_DEVIATIONS ?= 500
FUZZ_COLD ?= 100
FUZZ_SOLIDS ?= 40
FUZZ_FREEZING ?= 10000
FUZZ_AMOUNTS ?= 1000
FUZZ_TRANSPORT ?= 400
FUZZ_SALTS ?= 10000
FUZZ_FITS ?= 300
FUZZ_STUDIES ?= 500
FUZZ_CALLS ?= 20000
FUZZ_FILES ?= 2000
FUZZ_MODELS ?= 400
FUZZ_ROOTS ?= 1000
FUZZ_EXTREMES ?= 400
REPETITIONS ?= 500

.PHONY: demo test lowest reference wheel check bench fuzz coverage docs screenshots clean

demo: $(VENV)/.installed
	$(BIN)/sleetfield demo --folder marlwick-demo --overwrite

# a process for each core, with one thread for its linear algebra
test: $(VENV)/.installed-dev
	OPENBLAS_NUM_THREADS=1 $(BIN)/python -m pytest -n auto --dist worksteal

# a part of the tests with the lowest versions that the ranges of the dependencies allow
LOWEST_TESTS = tests/test_hostile_input.py tests/test_book_problems.py tests/test_engineers_way.py tests/test_units_and_compositions.py tests/test_export.py tests/test_shown.py
lowest: $(VENV)/.installed-dev
	$(PYTHON) -m venv --clear .venv-lowest
	$(BIN)/python tools/lowest.py > .venv-lowest/constraints.txt
	.venv-lowest/bin/python -m pip install --quiet -r .venv-lowest/constraints.txt
	PYTHONPATH=src .venv-lowest/bin/python -m pytest -q -n auto -W ignore::DeprecationWarning $(LOWEST_TESTS)

# what calculates, in the reference engine alone
REFERENCE_TESTS = tests/core tests/test_equations_of_state.py tests/test_published_mixtures.py tests/test_specified_flash.py tests/test_random_mixtures.py tests/test_searches.py
reference: $(VENV)/.installed-dev
	SLEETFIELD_ENGINE=numpy $(BIN)/python -m pytest -q -n auto $(REFERENCE_TESTS)

wheel: $(VENV)/.installed
	$(BIN)/python -m pip wheel --quiet --no-deps --wheel-dir dist .
	$(PYTHON) -m venv --clear .venv-wheel
	.venv-wheel/bin/python -m pip install --quiet dist/sleetfield-*.whl
	.venv-wheel/bin/sleetfield --version

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
	$(BIN)/python -m tests.searches.states --states $(FUZZ_STATES)
	$(BIN)/python -m tests.searches.envelopes --mixtures $(FUZZ_ENVELOPES)
	$(BIN)/python -m tests.searches.liquids --binaries $(FUZZ_BINARIES) --ternaries $(FUZZ_TERNARIES)
	$(BIN)/python -m tests.searches.dew_points --mixtures $(FUZZ_DEWS)
	$(BIN)/python -m tests.searches.diagrams --pairs $(FUZZ_PAIRS)
	$(BIN)/python -m tests.searches.critical_region --mixtures $(FUZZ_CRITICAL)
	$(BIN)/python -m tests.searches.reading --mixtures $(FUZZ_READING)
	$(BIN)/python -m tests.searches.triangles --triangles $(FUZZ_TRIANGLES)
	$(BIN)/python -m tests.searches.deviations --pairs $(FUZZ_DEVIATIONS)
	$(BIN)/python -m tests.searches.cold --mixtures $(FUZZ_COLD)
	$(BIN)/python -m tests.searches.solids --mixtures $(FUZZ_SOLIDS)
	$(BIN)/python -m tests.searches.freezing --feeds $(FUZZ_FREEZING)
	$(BIN)/python -m tests.searches.amounts --gases $(FUZZ_AMOUNTS)
	$(BIN)/python -m tests.searches.transport --mixtures $(FUZZ_TRANSPORT)
	$(BIN)/python -m tests.searches.electrolytes --feeds $(FUZZ_SALTS)
	$(BIN)/python -m tests.searches.regression --fits $(FUZZ_FITS)
	$(BIN)/python -m tests.searches.studies --studies $(FUZZ_STUDIES)
	$(BIN)/python -m tests.searches.calls --calls $(FUZZ_CALLS)
	$(BIN)/python -m tests.searches.engines --models $(FUZZ_MODELS)
	$(BIN)/python -m tests.searches.roots --models $(FUZZ_ROOTS)
	$(BIN)/python -m tests.searches.extremes --mixtures $(FUZZ_EXTREMES)
	$(BIN)/python -m tests.searches.files --files $(FUZZ_FILES)

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

$(VENV)/.installed: $(VENV)/.created pyproject.toml setup.py $(wildcard src/sleetfield/core/compiled/engine/*)
	$(BIN)/python -m pip install --quiet --editable .
	touch $@

$(VENV)/.installed-dev: $(VENV)/.created pyproject.toml setup.py $(wildcard src/sleetfield/core/compiled/engine/*)
	$(BIN)/python -m pip install --quiet --editable '.[dev]'
	touch $@ $(VENV)/.installed

clean:
	rm -rf $(VENV) build dist site marlwick-demo .pytest_cache .mypy_cache .ruff_cache .hypothesis
