# `make demo` and `make test` do everything on a fresh machine: CPython 3.11 or newer, Node 20 or
# newer with npm, and a C compiler are all they need.

PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
WEB_SOURCES := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/vite.config.ts web/vite.viewer.config.ts

.PHONY: demo test thorough install first kernels setup web lint chromium llvm clean

# Python's side and the browser's need nothing of each other until both are there.
SIDE_BY_SIDE := $(MAKE) --no-print-directory --jobs 3

# What nearly every study needs is compiled while npm installs and builds; the rest while it serves.
demo:
	@$(SIDE_BY_SIDE) install first llvm
	$(BIN)/zygomorph demo

install: $(VENV)/.installed zygomorph/web/index.html

first: $(VENV)/.installed
	@$(BIN)/zygomorph prepare --first --quiet

kernels: $(VENV)/.installed
	$(BIN)/zygomorph prepare

setup: install kernels

$(VENV)/.installed: requirements.lock pyproject.toml
	$(PYTHON) -m venv $(VENV)
	$(BIN)/pip install --quiet --require-hashes --requirement requirements.lock
	$(BIN)/pip install --quiet --no-deps --editable .
	touch $@

web/node_modules/.installed: web/package-lock.json
	cd web && npm ci --no-audit --no-fund
	touch $@

web: zygomorph/web/index.html

zygomorph/web/index.html: web/node_modules/.installed $(WEB_SOURCES)
	cd web && npm run --silent build

lint: $(VENV)/.installed web/node_modules/.installed
	$(BIN)/ruff format --check zygomorph tests scripts
	$(BIN)/ruff check zygomorph tests scripts
	$(BIN)/mypy
	$(BIN)/lint-imports
	cd web && npm run --silent lint

# Debian's packages are installed one after the other: they hold one lock.
chromium: llvm
	@sh scripts/chromium.sh

llvm:
	@sh scripts/llvm.sh

# Checks of the text run beside the tests outside the browser; those of the interface take both cores.
ASIDE := $(MAKE) --no-print-directory lint && cd web && npm test --silent
WORKERS := --numprocesses 2
test:
	@$(SIDE_BY_SIDE) setup chromium
	@($(ASIDE)) > .aside.log 2>&1 & aside=$$!; \
	$(BIN)/pytest $(WORKERS) --dist loadfile --ignore tests/web; core=$$?; \
	wait $$aside; aside=$$?; cat .aside.log; rm -f .aside.log; \
	test $$core -eq 0 && test $$aside -eq 0
	$(BIN)/pytest $(WORKERS) --dist worksteal tests/web

# All tests, also those that take long and guard what seldom changes, at many more random values.
thorough:
	@$(SIDE_BY_SIDE) setup chromium
	$(BIN)/pytest $(WORKERS) --dist worksteal -m '' --hypothesis-profile thorough

clean:
	rm -rf $(VENV) web/node_modules zygomorph/web
