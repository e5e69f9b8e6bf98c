# make demo    everything running, with the demo world, at http://127.0.0.1:8000
# make test    everything that CI runs; make test T=lettering only the tests that have to do with that
# make steady  the same five times over, beside three processes that keep the processors busy
# make bench   the budgets, each beside its reference
# make fuzz    outlines in ten hard styles with fresh seeds, judged one by one; and every property on thousands of examples
# make jobs    1,000 jobs as makers vary them (sizes, words, lists, stock), each judged; make jobs N=200 SEED=7 others
# make presses  whole jobs at the page, their presses counted, as they stand and with other sizes and words
# make lies    200 sheets put on beds anyhow, and how near to their corners the eye finds them
# make kills   500 runs broken off at random: helper, server, link and machine, and each gone on with
# make locks   the versions in requirements*.txt anew, from requirements*.in
# make scripts  lint and types of the page's scripts, which `make lint` does too
# make styles  the page's styles and vendored scripts, from frontend/
# make screenshots  the pictures in docs/screenshots, from the demo world

VENV := .venv
PYTHON := $(VENV)/bin/python
PORT ?= 8000
UV := 0.13.9
export PIP_DISABLE_PIP_VERSION_CHECK := 1
# Or every process that is started would compile everything anew.
export PYTHONDONTWRITEBYTECODE :=

.PHONY: braille debian demo test steady bench fuzz jobs presses kills lies locks styles screenshots lint style types scripts

demo: $(VENV)/.ready braille
	FOLIANT_DEMO=1 $(PYTHON) manage.py serve --port $(PORT)

PYTEST = $(PYTHON) -m pytest -n 2

ifdef T
test: $(VENV)/.ready-dev debian
	$(PYTEST) --touching "$(T)"
else
test: $(VENV)/.ready-dev debian
	@echo "Lint and types are proved beside the tests; what they find is said at the end."
	@$(MAKE) --no-print-directory -j 2 --output-sync lint >$(VENV)/lint.log 2>&1 & lint=$$!; \
	$(PYTEST) --durations 30; tests=$$?; \
	wait $$lint || { cat $(VENV)/lint.log; exit 1; }; exit $$tests
endif

steady: $(VENV)/.ready-dev
	$(PYTHON) -m tests.steady

lint: style types scripts

style: $(VENV)/.ready-dev
	$(VENV)/bin/ruff format --check .
	$(VENV)/bin/ruff check .
	$(VENV)/bin/lint-imports
	$(PYTHON) manage.py makemigrations --check --dry-run

types: $(VENV)/.ready-dev
	$(PYTHON) -m mypy

bench: $(VENV)/.ready-dev debian
	$(PYTHON) -m tests.bench

fuzz: $(VENV)/.ready-dev
	$(PYTHON) -m tests.fuzz
	$(PYTEST) --hypothesis-profile fuzz -m hypothesis

jobs: $(VENV)/.ready-dev
	$(PYTHON) -m tests.jobs $(or $(N),1000) $(SEED)

presses: $(VENV)/.ready-dev debian
	$(PYTHON) -m tests.presses $(N) $(SEED)

kills: $(VENV)/.ready-dev
	$(PYTHON) -m tests.kills 500

lies: $(VENV)/.ready-dev
	$(PYTHON) -m tests.lies 200

screenshots: $(VENV)/.ready-dev debian
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
	$(call installed,requirements.txt)
	touch $@

$(VENV)/.ready-dev: requirements-dev.txt requirements.txt
	$(call installed,requirements-dev.txt)
	touch $@ $(VENV)/.ready

# By uv, which takes a fifth of pip's time.
define installed
	test -x $(PYTHON) || python3 -m venv $(VENV)
	$(PYTHON) -m pip install --quiet uv==$(UV)
	$(VENV)/bin/uv pip install --quiet --python $(PYTHON) -r $(1)
endef

# What translates Braille, and what its tests hold that against. Without it all else works, and the page says so.
braille:
	@command -v lou_translate >/dev/null || { \
	  run=$$([ $$(id -u) = 0 ] || echo sudo); $$run apt-get update -qq && \
	  $$run apt-get install -y -qq liblouis20 liblouis-data liblouis-bin; } || \
	  echo "Braille cannot be translated here: that takes liblouis20 and liblouis-data."

# What tests need of Debian beside that: the journeys drive Chromium's headless shell, and poppler measures pages.
debian:
	@missing=; \
	command -v chromium-headless-shell >/dev/null || missing="$$missing chromium-headless-shell"; \
	command -v lou_translate >/dev/null || missing="$$missing liblouis20 liblouis-data liblouis-bin"; \
	command -v pdftocairo >/dev/null || missing="$$missing poppler-utils"; \
	[ -z "$$missing" ] || { run=$$([ $$(id -u) = 0 ] || echo sudo); $$run apt-get update -qq && \
	  $$run apt-get install -y -qq --no-install-recommends $$missing; }
