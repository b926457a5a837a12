# The project's own commands. A fresh Debian machine with Python 3.11+ and Node 20+ needs nothing else.

PYTHON ?= python3
PORT ?= 8026
VENV := .venv
BIN := $(VENV)/bin
MODULES := web/node_modules/.package-lock.json
TYPES := web/src/api/schema.gen.ts

.PHONY: demo test lint format api build shots bench torture clean browser

# Build the demo afresh and serve it.
demo: build
	$(BIN)/netnaught demo --port $(PORT)

# Everything: front end tests, Python tests, the browser.
test: $(VENV)/.dev build browser $(TYPES)
	cd web && npm run --silent test
	$(BIN)/pytest

lint: $(VENV)/.dev $(MODULES) $(TYPES)
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports --no-cache
	$(BIN)/python tools/openapi.py --check
	cd web && npm run --silent lint && npm run --silent typecheck

format: $(VENV)/.dev $(MODULES)
	$(BIN)/ruff check --fix .
	$(BIN)/ruff format .
	cd web && npm run --silent format

# What the front end takes from the back end: the OpenAPI document, its types, currency digits.
api: $(VENV)/.dev $(MODULES)
	$(BIN)/python tools/openapi.py
	cd web && npm run --silent api

# The types of the API, made from its document: never stale, so not kept.
$(TYPES): docs/openapi.json $(MODULES)
	cd web && npm run --silent api

# Retake docs/screenshots from the demo data.
shots: $(VENV)/.dev build browser
	$(BIN)/python tools/shots.py

bench: $(VENV)/.dev build browser
	$(BIN)/python -m benchmarks

# Kill -9 a hundred times in the middle of everything that writes.
torture: $(VENV)/.dev
	NETNAUGHT_KILLS=100 $(BIN)/pytest tests/store/test_kill.py

build: web/dist/index.html netnaught/papers/fonts/Text.ttf

clean:
	rm -rf $(VENV) web/node_modules web/dist netnaught/papers/fonts

$(BIN)/uv:
	$(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check uv

# The application alone; .dev adds what developing and testing need.
$(VENV)/.app: $(BIN)/uv requirements.txt pyproject.toml
	$(BIN)/uv pip install --quiet --python $(BIN)/python --require-hashes -r requirements.txt
	$(BIN)/uv pip install --quiet --python $(BIN)/python --no-deps --no-build-isolation --editable .
	touch $@

$(VENV)/.dev: $(VENV)/.app requirements-dev.txt
	$(BIN)/uv pip install --quiet --python $(BIN)/python --require-hashes -r requirements-dev.txt
	touch $@

$(MODULES): web/package-lock.json web/package.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	touch $@

web/dist/index.html: $(MODULES) $(TYPES) web/index.html web/vite.config.ts $(shell find web/src web/public -type f)
	cd web && npm run --silent build

netnaught/papers/fonts/Text.ttf: $(VENV)/.app $(MODULES) tools/fonts.py
	$(BIN)/python tools/fonts.py

# Chromium and the tools that check written files come from Debian.
browser:
	sh tools/browser.sh
