# Two commands matter: `make demo` starts the application, `make test` checks all of it.
PYTHON ?= python3
BIN := .venv/bin
PORT ?= 8000

# Kept compiled, since the suite starts the application in some forty processes of its own.
export PYTHONDONTWRITEBYTECODE :=

# Laboratories of tests are made in memory where there is room: a busy disk made a save take seconds.
SPACIOUS := $(shell test "$$(df -k --output=avail /dev/shm 2>/dev/null | tail -1)" -gt 4000000 && echo /dev/shm)
export PYTEST_DEBUG_TEMPROOT ?= $(or $(SPACIOUS),/tmp)

.PHONY: demo test suite thorough lint format unit browser bench soak screenshots docs clean

# An older pip looks through what there is twice as long; where no newer one can be had it does as well.
.venv:
	$(PYTHON) -m venv .venv || (rm -rf .venv; apt-get update && apt-get install -y python3-venv && $(PYTHON) -m venv .venv)
	$(BIN)/pip install --quiet --disable-pip-version-check --no-compile -c constraints.txt --upgrade pip || true

# What is used is compiled when it is first used: compiling all of every package takes as long as installing it.
INSTALL := $(BIN)/pip install --quiet --disable-pip-version-check --no-compile -c constraints.txt -e

.stamp-run: .venv pyproject.toml constraints.txt
	$(INSTALL) .
	@touch $@

.stamp-dev: .venv pyproject.toml constraints.txt
	$(INSTALL) '.[dev]'
	@touch $@ .stamp-run

# Browser tests drive Debian's own Chromium; nothing is downloaded by a test tool.
.stamp-chromium:
	@command -v chromium-headless-shell >/dev/null || command -v chromium >/dev/null || (apt-get update && \
		(apt-get install -y --no-install-recommends chromium-headless-shell fonts-dejavu-core || \
		apt-get install -y --no-install-recommends chromium fonts-dejavu-core))
	@touch $@

demo: .stamp-run
	$(BIN)/vadum demo --port $(PORT)

# What reads the code and what runs it, side by side; so are packages and browser on a new machine.
test:
	$(MAKE) -j 2 .stamp-dev .stamp-chromium
	$(MAKE) -j 2 lint suite

# Modules and tests are compiled by one before four would each compile them for themselves.
.stamp-compiled: .stamp-dev
	$(BIN)/pytest --collect-only --quiet > /dev/null
	@touch $@

# Four at a time on two cores: a third of the tests wait for a page or for a clock.
suite: .stamp-compiled .stamp-chromium
	VADUM_SOILS=12 $(BIN)/pytest -n 4 --dist worksteal --junitxml=.stamp-suite.xml

# More of everything: all two hundred virtual soils of every method, every proof by the hundred for the methods with long
# records too, examples drawn from the clock, 25 kills, every route forty times, every run mode and worksheet without a
# line and with a slow one, ten readings in a row, a hand that types at random, every kind of sheet under every school
# and as axe sees it by night, a morning of ten sheets.
thorough: .stamp-dev .stamp-chromium
	VADUM_THOROUGH=1 $(BIN)/pytest -m 'not browser' -n 2 --dist worksteal
	VADUM_THOROUGH=1 $(BIN)/pytest -m browser -n 2 --dist worksteal

lint: .stamp-dev
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/deno fmt --check --quiet
	$(BIN)/deno lint --quiet
	$(BIN)/djlint src/vadum/web/templates src/vadum/web/pages --check --lint --quiet
	$(BIN)/mypy
	$(BIN)/lint-imports --no-cache

# Python, scripts, styles and templates as their formatters write them.
format: .stamp-dev
	$(BIN)/ruff format .
	$(BIN)/deno fmt --quiet
	$(BIN)/djlint src/vadum/web/templates src/vadum/web/pages --reformat --quiet || true

unit: .stamp-dev
	$(BIN)/pytest -m 'not browser' -n 2 --dist worksteal

browser: .stamp-dev .stamp-chromium
	$(BIN)/pytest -m browser

# Every table to its end; the status says whether a figure missed its target by more than a fifth.
BENCHES := bench logs live paint saves years recompute reports slowest
bench: .stamp-dev .stamp-chromium
	@status=0; for one in $(BENCHES); do $(BIN)/python -W ignore benchmarks/$$one.py || status=1; done; exit $$status

# Twelve minutes on two cores.
soak: .stamp-dev
	$(BIN)/python -W ignore benchmarks/soak.py

screenshots: .stamp-dev .stamp-chromium
	$(BIN)/python benchmarks/screenshots.py

docs: .stamp-run
	$(BIN)/vadum docs docs/methods

clean:
	rm -rf .venv .stamp-*
