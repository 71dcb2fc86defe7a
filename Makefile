# make demo, make test: see README.md. make test-quick before each commit, make test-deep before a release. Stamps keep a second start quick: nothing is made again unless its inputs changed.
PYTHON ?= python3
PORT ?= 8000
BIN := .venv/bin
STATIC := src/passerelle/api/static
WEB_SOURCES := $(shell find web/src web/public web/index.html web/vite.config.ts -type f ! -name '*.test.ts' 2>/dev/null)

.PHONY: demo test test-quick test-deep check check-style check-kinds check-walls check-api check-web dev bench types format screenshots clean

demo: .stamps/python $(STATIC)/index.html
	$(BIN)/passerelle demo --port $(PORT)

PYTEST := $(BIN)/pytest --numprocesses auto --dist worksteal

test: .stamps/python .stamps/chromium $(STATIC)/index.html
	cd web && npm run --silent test
	$(PYTEST)

test-quick: .stamps/python .stamps/web
	cd web && npm run --silent test
	$(PYTEST) tests/core tests/store tests/exchange

test-deep: test .stamps/faketime
	PASSERELLE_TEST_DEEP=1 $(PYTEST) --ignore tests/ui
	sh scripts/other-days.sh $(PYTEST)

check: .stamps/python .stamps/web
	@$(MAKE) --no-print-directory --jobs=4 --output-sync=target check-style check-kinds check-walls check-api check-web

check-style:
	$(BIN)/ruff check src tests scripts
	$(BIN)/ruff format --check src tests scripts

check-kinds:
	$(BIN)/mypy

check-walls:
	$(BIN)/lint-imports

check-api:
	sh scripts/check-types.sh

check-web:
	cd web && npm run --silent check

dev: .stamps/python .stamps/web
	sh scripts/dev.sh $(PORT)

types: .stamps/python .stamps/web
	$(BIN)/passerelle openapi > docs/openapi.json
	$(BIN)/passerelle schema > docs/plan.schema.json
	$(BIN)/passerelle lists > web/src/shared/generated/lists.ts
	cd web && npm run --silent types

format: .stamps/python .stamps/web
	$(BIN)/ruff format src tests scripts
	cd web && npm run --silent format

bench: .stamps/python .stamps/chromium $(STATIC)/index.html
	$(BIN)/python scripts/bench.py

screenshots: .stamps/python .stamps/chromium $(STATIC)/index.html
	$(BIN)/python scripts/screenshots.py

.stamps/python: pyproject.toml requirements.txt
	@mkdir -p .stamps
	test -x $(BIN)/python || $(PYTHON) -m venv .venv
	$(BIN)/python -m pip install --quiet -r requirements.txt
	$(BIN)/python -m pip install --quiet --no-deps --no-build-isolation -e .
	@touch $@

.stamps/web: web/package.json web/package-lock.json
	@mkdir -p .stamps
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

.stamps/chromium:
	@mkdir -p .stamps
	sh scripts/need-chromium.sh
	@touch $@

.stamps/faketime:
	@mkdir -p .stamps
	sh scripts/need-faketime.sh
	@touch $@

$(STATIC)/index.html: .stamps/web $(WEB_SOURCES)
	cd web && npm run --silent build

clean:
	rm -rf .stamps $(STATIC) web/node_modules .venv
