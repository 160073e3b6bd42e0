# Fair Witness. `make demo` serves the demo; `make test` checks everything.
SHELL := /bin/bash
PYTHON ?= python3.11
PORT ?= 8000
VENV := .venv
BIN := $(VENV)/bin
RUN := $(VENV)/.run-ready
DEV := $(VENV)/.dev-ready
WEB := web/node_modules/.ready
DIST := web/dist/index.html
WEB_SOURCES := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/vite.config.ts
DEMO_DATA := var/demo
export PIP_DISABLE_PIP_VERSION_CHECK := 1

.PHONY: demo test build wheel browser format lint types contracts drift webtest pytest share bench screenshots tasks contrast study client documents lock clean

demo: $(RUN) $(DIST)
	@mkdir -p $(DEMO_DATA)
	@export FAIRWITNESS_DEMO=1 FAIRWITNESS_DATA=$(DEMO_DATA); \
	exec $(BIN)/python manage.py demo --port $(PORT)

test: $(DEV) $(WEB) browser format lint types contracts drift $(DIST) webtest pytest share

build: $(DIST)

$(VENV)/bin/python:
	$(PYTHON) -m venv $(VENV) || python3 -m venv $(VENV)

$(RUN): requirements.lock pyproject.toml | $(VENV)/bin/python
	$(BIN)/pip install -qq -r requirements.lock
	$(BIN)/pip install -qq --no-deps -e .
	@touch $@

$(DEV): requirements-dev.lock $(RUN)
	$(BIN)/pip install -qq -r requirements-dev.lock
	@touch $@

$(WEB): web/package-lock.json web/package.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

$(DIST): $(WEB) $(WEB_SOURCES)
	cd web && npm run -s build -- --logLevel warn

wheel: $(RUN) $(DIST)
	rm -rf src/fairwitness/server/interface build
	cp -r web/dist src/fairwitness/server/interface
	$(BIN)/pip wheel -q --no-deps -w dist . ; status=$$?; rm -rf src/fairwitness/server/interface build; exit $$status

browser:
	@command -v chromium >/dev/null && command -v chromedriver >/dev/null || \
	(apt-get update -qq && apt-get install -y -qq --no-install-recommends chromium chromium-driver >/dev/null)
	@ldconfig -p | grep -q libpangoft2 || \
	(apt-get update -qq && apt-get install -y -qq --no-install-recommends libpangoft2-1.0-0 libharfbuzz-subset0 >/dev/null)

format: $(DEV) $(WEB)
	$(BIN)/ruff format --check --quiet src tests scripts manage.py
	cd web && npm run -s format >/dev/null

lint: $(DEV) $(WEB)
	$(BIN)/ruff check --quiet src tests scripts manage.py
	cd web && npm run -s lint

types: $(DEV) $(WEB)
	$(BIN)/mypy --no-error-summary
	cd web && npm run -s types

contracts: $(DEV)
	$(BIN)/lint-imports --no-cache >/dev/null || $(BIN)/lint-imports --no-cache

drift: $(DEV) $(WEB)
	$(BIN)/python manage.py makemigrations --check --dry-run -v0
	$(BIN)/python manage.py spectacular --fail-on-warn --file /tmp/fairwitness-openapi.yaml
	diff -u docs/openapi.yaml /tmp/fairwitness-openapi.yaml
	cd web && npx --no-install openapi-typescript ../docs/openapi.yaml -o /tmp/fairwitness-schema.d.ts >/dev/null 2>&1
	diff -u web/src/api/schema.d.ts /tmp/fairwitness-schema.d.ts
	$(BIN)/python scripts/documents.py --check

documents: $(DEV)
	$(BIN)/python scripts/documents.py

webtest: $(WEB)
	cd web && npm run -s test

pytest: $(DEV) $(DIST) browser
	$(BIN)/python scripts/run_tests.py

share: $(DEV)
	$(BIN)/python scripts/share_of_tests.py

client: $(DEV) $(WEB)
	$(BIN)/python manage.py spectacular --fail-on-warn --file docs/openapi.yaml
	cd web && npm run -s client

bench: $(DEV) $(DIST)
	$(BIN)/python scripts/bench.py

study: $(RUN)
	$(BIN)/fairwitness study --cases 300

screenshots: $(DEV) $(DIST) browser
	$(BIN)/python scripts/screenshots.py

tasks: $(DEV) $(DIST) browser
	$(BIN)/python scripts/tasks.py

contrast: $(DEV) $(DIST) browser
	$(BIN)/python scripts/contrast.py

lock: $(DEV)
	$(BIN)/python scripts/lock.py

clean:
	rm -rf $(VENV) web/node_modules web/dist var
