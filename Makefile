# Everything is made from here; each target says what it does and is quick when there is nothing to do.
SHELL := /bin/bash
.SHELLFLAGS := -o pipefail -c
PYTHON ?= python3
PORT ?= 8720
V := .venv/bin
# Modules are compiled when they are first imported and kept, whatever the machine's custom is.
export PYTHONDONTWRITEBYTECODE :=
# As Hakari itself does (src/hakari/__init__.py); tests import numpy before it.
export OPENBLAS_NUM_THREADS := 1
# Only what a lock file names by its hash is installed; Hakari itself is built by what is locked too.
PIP = $(V)/python -m pip install -q --no-compile --disable-pip-version-check
LOCKED = $(PIP) --require-hashes -r
STAMPS := .stamps
PAGE := src/hakari/web/static/index.html
SOURCES := $(shell find src/hakari -type f -not -path '*/static/*' -not -path '*/__pycache__/*' 2>/dev/null)
FRONT := $(shell find frontend/src -type f 2>/dev/null) frontend/index.html frontend/vite.config.ts frontend/tsconfig.json

.PHONY: setup demo dev wheel test tests thorough bench pictures screenshots demo-batch lock audit versions types lint lint-python lint-page typecheck typecheck-python typecheck-page unit page e2e clean

versions:
	@$(PYTHON) -c 'import sys; v = sys.version_info; sys.exit(0 if v[:2] == (3, 11) else f"Hakari needs Python 3.11; this is {v[0]}.{v[1]}. Install python3.11 and run: make PYTHON=python3.11")'
	@command -v node >/dev/null || { echo "Hakari needs Node 20.19 or newer; there is no node. Install nodejs."; exit 1; }
	@node -e 'const [a, b] = process.versions.node.split(".").map(Number); if (a < 20 || (a === 20 && b < 19)) { console.error("Hakari needs Node 20.19 or newer; this is " + process.versions.node + "."); process.exit(1) }'

$(STAMPS)/runtime: requirements-build.txt requirements.txt pyproject.toml
	@echo "== Python: virtual environment and run-time packages"
	@test -x $(V)/python || $(PYTHON) -m venv .venv
# First pip: the one that comes with Python 3.11 takes twice as long.
	@$(LOCKED) requirements-build.txt
	@$(LOCKED) requirements.txt
	@$(PIP) --no-deps --no-build-isolation -e .
	@mkdir -p $(STAMPS) && touch $@

$(STAMPS)/dev: requirements-dev.txt $(STAMPS)/runtime
	@echo "== Python: development packages"
	@$(LOCKED) requirements-dev.txt
	@touch $@

$(STAMPS)/node: frontend/package.json frontend/package-lock.json
	@echo "== Node: packages of the page"
# What package-lock.json says, each package checked against its hash there.
	@cd frontend && npm ci --no-audit --no-fund --loglevel=error --ignore-scripts
	@mkdir -p $(STAMPS) && touch $@

$(PAGE): $(STAMPS)/node $(FRONT)
	@echo "== Page: building"
	@cd frontend && npx vite build --logLevel warn
	@touch $@

# Debian's packages, one installation at a time.
INSTALL = flock $(STAMPS)/apt.lock sh -c 'apt-get update -q && apt-get install -y -q --no-install-recommends $(1)' >/dev/null

# The shell without a window is enough for the tests and quicker; the browser will do.
$(STAMPS)/chromium:
	@mkdir -p $(STAMPS)
	@command -v chromium-headless-shell >/dev/null || { echo "== Chromium: installing for the browser tests"; \
	  $(call INSTALL,chromium-headless-shell) || command -v chromium >/dev/null || $(call INSTALL,chromium) || \
	  { echo "Install it by hand (as root: apt-get install chromium-headless-shell)"; exit 1; }; }
	@touch $@

# Without it the tests of a shared database are skipped.
$(STAMPS)/postgresql:
	@mkdir -p $(STAMPS)
	@ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1 || { echo "== PostgreSQL: installing for the tests of a shared database"; \
	  $(call INSTALL,postgresql) || \
	  echo "Its tests are skipped. Install postgresql by hand (as root: apt-get install postgresql)"; }
	@touch $@

setup: versions
	@$(MAKE) --no-print-directory -j2 $(STAMPS)/runtime $(PAGE)

demo: setup
	@exec $(V)/hakari demo --port $(PORT) --data data/demo

# One file with the page in it, to be installed by pip; without what an earlier build left behind.
$(STAMPS)/wheel: $(STAMPS)/runtime $(PAGE) $(SOURCES) LICENSE constraints.txt requirements-extras.txt
	@echo "== Wheel: dist/"
	@rm -rf build dist && $(V)/python -m pip wheel -q --no-deps --no-build-isolation -w dist . && rm -rf build
	@touch $@

wheel: versions
	@$(MAKE) --no-print-directory $(STAMPS)/wheel

dev: setup
	@echo "== API on $(PORT), page with hot reload on 5173"
	@trap 'kill 0' EXIT; $(V)/hakari demo --port $(PORT) --data data/demo & cd frontend && npx vite

types: setup
	@$(V)/python -m hakari.web.openapi > openapi.json && cd frontend && npm run --silent types

lint: lint-python lint-page
typecheck: typecheck-python typecheck-page

lint-python: | $(STAMPS)/dev
	@echo "== Lint: Python"
	@$(V)/ruff check --no-cache . && $(V)/ruff format --check . && $(V)/lint-imports --no-cache | tail -n 8

lint-page: | $(STAMPS)/node
	@echo "== Lint: page"
	@cd frontend && npm run --silent lint

typecheck-python: | $(STAMPS)/dev
	@echo "== Types: Python"
	@$(V)/mypy

typecheck-page: | $(STAMPS)/node
	@echo "== Types: page"
	@cd frontend && npm run --silent typecheck

unit: $(STAMPS)/dev $(STAMPS)/wheel $(STAMPS)/postgresql
	@echo "== Unit and API tests"
	@$(V)/python -m pytest tests/core tests/formats tests/store tests/service tests/web tests/cli

page: | $(STAMPS)/node
	@echo "== Tests of what the page computes"
	@cd frontend && npm run --silent test

e2e: $(STAMPS)/dev $(PAGE) $(STAMPS)/chromium
	@echo "== Browser tests"
	@$(V)/python -m pytest tests/e2e

test: versions
# What is fetched is waited for, and so goes on beside what computes.
	@$(MAKE) --no-print-directory -j5 --output-sync=target $(STAMPS)/chromium $(STAMPS)/postgresql $(STAMPS)/wheel lint typecheck-page page
# The types of Python take one processor as long as all of that.
	@$(MAKE) --no-print-directory -j2 typecheck-python tests

# Half of the browser tests' time is waiting, so there is one process more than processors.
tests: | $(STAMPS)/dev
	@echo "== Tests"
	@$(V)/python -m pytest -n $$(($$(nproc) + 1)) --dist loadfile --no-loadscope-reorder \
	  tests/e2e tests/web tests/service tests/core tests/formats tests/store tests/cli

# Every method brewed in the browser, and many more tries where a test gains by them.
thorough: setup $(STAMPS)/dev $(STAMPS)/chromium $(STAMPS)/postgresql
	@HAKARI_TESTS=thorough $(V)/python -m pytest -n $$(nproc) --dist load tests/e2e/test_every_method.py \
	  tests/web/test_api.py tests/service/test_kills.py tests/service/test_any_plan.py tests/core/test_first_answer.py \
	  tests/service/test_upgrades.py tests/service/test_backups.py

$(STAMPS)/pictures: requirements-pictures.txt $(STAMPS)/dev
	@$(LOCKED) requirements-pictures.txt
	@touch $@

pictures: $(STAMPS)/pictures
	@$(V)/python -m benchmarks.pictures3d.sets

bench: setup $(STAMPS)/pictures
	@$(V)/python -m benchmarks.measuring && $(V)/python -m benchmarks.intervals && $(V)/python -m benchmarks.grinders && $(V)/python -m benchmarks.predicting
	@$(V)/python -m benchmarks.brewing && $(V)/python -m benchmarks.streaming && $(V)/python -m benchmarks.years && $(V)/python -m benchmarks.loading && $(V)/python -m benchmarks.dialing && $(V)/python -m benchmarks.dialing_steeps && $(V)/python -m benchmarks.batching

demo-batch: $(STAMPS)/dev
	@$(V)/python -m benchmarks.demo_batch demo-batch
	@$(V)/hakari batch demo-batch/list.csv -o demo-batch/results.parquet && $(V)/hakari report demo-batch/results.parquet -o demo-batch/report.html

screenshots: setup $(STAMPS)/chromium
	@$(V)/python -m benchmarks.screenshots

# Tools that are run seldom: to lock, and to look for what is known to be harmful.
$(STAMPS)/tools: requirements-tools.txt $(STAMPS)/runtime
	@test -x .tools/bin/python || $(PYTHON) -m venv .tools
	@.tools/bin/python -m pip install -q --disable-pip-version-check --require-hashes -r requirements-tools.txt
	@touch $@

LOCKS := requirements requirements-build requirements-extras requirements-dev requirements-tools requirements-pictures
UV = .tools/bin/uv pip compile -q --no-header --no-emit-index-url --no-annotate --python-version 3.11 --allow-unsafe

lock: $(STAMPS)/tools
	@for f in $(LOCKS); do $(UV) $$f.in --generate-hashes -o $$f.txt && sed -i '/^# Made by/d; 1i # Made by: make lock' $$f.txt; done
	@$(UV) requirements.in requirements-extras.in -o constraints.txt && \
	  sed -i '/^# Made by/d; 1i # Made by: make lock. The versions that hakari and its extras were tested with.' constraints.txt

# Asks the registries for known faults of what is locked; says so where they cannot be reached.
audit: $(STAMPS)/tools $(STAMPS)/node
	@echo "== Python packages"
	@for f in requirements requirements-dev; do .tools/bin/pip-audit -r $$f.txt --require-hashes --disable-pip --progress-spinner off || failed=1; done; \
	  echo "== Packages of the page"; (cd frontend && npm audit --omit=dev) || failed=1; test -z "$$failed"

clean:
	rm -rf .venv .tools frontend/node_modules src/hakari/web/static build dist $(STAMPS)
