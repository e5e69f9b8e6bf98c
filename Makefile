# make demo    everything running, with the demo world, at http://127.0.0.1:8000
# make test    everything that CI runs
# make bench   the budgets, each beside its reference
# make fuzz    outlines in ten hard styles with fresh seeds, judged one by one
# make lies    200 sheets put on beds anyhow, and how near to their corners the eye finds them
# make kills   500 runs broken off at random: helper, server, link and machine, and each gone on with
# make locks   the versions in requirements*.txt anew, from requirements*.in
# make scripts  lint and types of the page's scripts, which `make lint` does too
# make styles  the page's styles and vendored scripts, from frontend/
# make screenshots  the pictures in docs/screenshots, from the demo world

VENV := .venv
PYTHON := $(VENV)/bin/python
PORT ?= 8000
export PIP_DISABLE_PIP_VERSION_CHECK := 1

.PHONY: braille demo test bench fuzz kills lies locks poppler styles screenshots chromium lint scripts

demo: $(VENV)/.ready braille
	FOLIANT_DEMO=1 $(PYTHON) manage.py serve --port $(PORT)

test: $(VENV)/.ready-dev chromium braille poppler lint
	$(PYTHON) -m pytest -n 2 --dist loadfile --no-loadscope-reorder --durations 30

lint: $(VENV)/.ready-dev scripts
	$(VENV)/bin/ruff format --check .
	$(VENV)/bin/ruff check .
	$(PYTHON) -m mypy
	$(VENV)/bin/lint-imports
	$(PYTHON) manage.py makemigrations --check --dry-run

bench: $(VENV)/.ready-dev chromium
	$(PYTHON) -m tests.bench

fuzz: $(VENV)/.ready-dev
	$(PYTHON) -m tests.fuzz

kills: $(VENV)/.ready-dev
	$(PYTHON) -m tests.kills 500

lies: $(VENV)/.ready-dev
	$(PYTHON) -m tests.lies 200

screenshots: $(VENV)/.ready-dev chromium
	$(PYTHON) -m tests.screenshots

# Every version that Foliant and its checks run on, from what they ask for themselves.
locks: $(VENV)/.ready-dev
	$(PYTHON) -m pip install --quiet pip-tools
	for asked in requirements requirements-dev; do \
	  CUSTOM_COMPILE_COMMAND="make locks" $(PYTHON) -m piptools compile --quiet --strip-extras --no-emit-index-url \
	    --no-emit-trusted-host --no-emit-find-links --allow-unsafe --output-file=$$asked.txt $$asked.in; done

# Lint and types of the page's scripts. Only this asks for Node.js: where there is none, or no way to its packages, it
# says so.
scripts:
	@cd frontend/scripts; if command -v npm >/dev/null && npm ci --silent --no-audit --no-fund; then npm run --silent check; \
	else echo "The page's scripts are not checked: that takes Node.js 18.18 or later with npm."; fi

styles:
	cd frontend && npm ci --no-audit --no-fund && npm run styles && npm run vendor

$(VENV)/.ready: requirements.txt
	test -x $(PYTHON) || python3 -m venv $(VENV)
	$(PYTHON) -m pip install --quiet -r requirements.txt
	touch $@

$(VENV)/.ready-dev: requirements-dev.txt requirements.txt
	test -x $(PYTHON) || python3 -m venv $(VENV)
	$(PYTHON) -m pip install --quiet -r requirements-dev.txt
	touch $@ $(VENV)/.ready

# What translates Braille, and what its tests hold that against. Without it all else works, and the page says so.
braille:
	@command -v lou_translate >/dev/null || { \
	  run=$$([ $$(id -u) = 0 ] || echo sudo); $$run apt-get update -qq && \
	  $$run apt-get install -y -qq liblouis20 liblouis-data liblouis-bin; } || \
	  echo "Braille cannot be translated here: that takes liblouis20 and liblouis-data."

# What measures the pages that are written.
poppler:
	@command -v pdftocairo >/dev/null || { \
	  run=$$([ $$(id -u) = 0 ] || echo sudo); $$run apt-get update -qq && $$run apt-get install -y -qq poppler-utils; }

# The journeys drive Debian's Chromium.
chromium:
	@command -v chromium >/dev/null || { \
	  run=$$([ $$(id -u) = 0 ] || echo sudo); $$run apt-get update -qq && $$run apt-get install -y -qq chromium; }
