# Two commands matter: make demo, and make test.
SHELL := /bin/bash
.SHELLFLAGS := -eo pipefail -c
PYTHON ?= python3
PORT ?= 8127
BIN := .venv/bin
WEB := web/node_modules/.package-lock.json
COMPILED := .venv/kiteloom-compiled/of
# Only what is typed behind make: some shells have a HOST of their own.
NETWORK := $(if $(findstring command,$(origin HOST)),--listen 0.0.0.0 $(addprefix --host ,$(HOST)))

.DEFAULT_GOAL := help
.PHONY: help demo demo-reset serve dev test quick types screenshots bench lint clean

help:
	@echo "make demo         install, build, seed and start on 127.0.0.1:$(PORT)"
	@echo "make demo-reset   start the demo over"
	@echo "make serve        your own shop; HOST=boathouse.local opens it to the shop's network, HTTPS=1 by https"
	@echo "make test         everything: lint, types, imports, tests, a real browser"
	@echo "make quick        lint, types and core tests, in under a minute"
	@echo "make dev          both ends, reloading"
	@echo "make types        the front end's types from the API"
	@echo "make screenshots  draw docs/screenshots from the demo"
	@echo "make bench        speeds and sizes"

# --- what is needed -----------------------------------------------------------

.venv/.app: pyproject.toml constraints.txt
	$(PYTHON) -m venv .venv
	$(BIN)/pip install --quiet --disable-pip-version-check --constraint constraints.txt --editable '.[compile]'
	@touch $@

.venv/.dev: .venv/.app
	$(BIN)/pip install --quiet --disable-pip-version-check --constraint constraints.txt --editable '.[compile,dev]'
	@touch $@

# Of the source as it stands; without a C compiler it says so, and the source itself runs.
$(COMPILED): .venv/.app src/kiteloom/compiled.py $(shell find src/kiteloom/core -name '*.py')
	$(BIN)/kiteloom compile

# Not npm ci: it refuses a lock written where other platforms' optional packages were not to be had.
$(WEB): web/package.json web/package-lock.json
	cd web && npm install --no-save --no-audit --no-fund --loglevel=error
	@touch $@

web/dist/index.html: $(WEB) $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/vite.config.ts
	cd web && npm run --silent build >/dev/null

/usr/bin/cc:
	apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq gcc libc6-dev python3-dev >/dev/null

/usr/bin/chromium:
	apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium >/dev/null

# --- the program --------------------------------------------------------------

demo: .venv/.app $(COMPILED) web/dist/index.html
	$(BIN)/kiteloom demo --port $(PORT)

demo-reset: .venv/.app $(COMPILED) web/dist/index.html
	$(BIN)/kiteloom demo --port $(PORT) --reset

serve: .venv/.app $(COMPILED) web/dist/index.html
	$(BIN)/kiteloom serve --port $(PORT) $(NETWORK) $(if $(HTTPS),--https) $(if $(COPIES),--copies $(COPIES))

dev: .venv/.dev $(WEB)
	@echo "The page is at http://127.0.0.1:8128, reloading; the API behind it at $(PORT)."
	@trap 'kill 0' EXIT; \
	 (cd web && KITELOOM_API=http://127.0.0.1:$(PORT) npm run --silent dev) & \
	 $(BIN)/kiteloom demo --port $(PORT) --reload

# --- what it must pass --------------------------------------------------------

lint: .venv/.dev $(WEB)
	$(BIN)/ruff check --quiet src tests
	$(BIN)/ruff format --quiet --check src tests
	$(BIN)/mypy
	$(BIN)/lint-imports --no-logo 2>/dev/null | tail -n 1
	cd web && npm run --silent lint && npm run --silent types

quick: lint
	KITELOOM_PLAIN=1 $(BIN)/pytest src/kiteloom/core tests/core

# Examples stand in the source, and are run in it; everything else is run in what was compiled of it.
test: lint /usr/bin/cc $(COMPILED) web/dist/index.html /usr/bin/chromium
	KITELOOM_PLAIN=1 $(BIN)/pytest -n 3 --dist worksteal src/kiteloom/core docs/methods
	$(BIN)/pytest -n 3 --dist worksteal tests

types: .venv/.dev $(WEB)
	$(BIN)/kiteloom openapi > web/openapi.json
	cd web && npm run --silent api
	rm web/openapi.json

screenshots: .venv/.dev $(COMPILED) web/dist/index.html /usr/bin/chromium
	$(BIN)/python -m tests.browser.pictures

bench: .venv/.dev $(COMPILED) web/dist/index.html /usr/bin/chromium
	$(BIN)/python -m tests.bench

clean:
	rm -rf .venv web/node_modules web/dist
