SHELL := /bin/bash
.DEFAULT_GOAL := help
PY ?= python3
PORT ?= 8000
V := .venv
BIN := $(V)/bin
export PIP_DISABLE_PIP_VERSION_CHECK := 1
unexport PYTHONDONTWRITEBYTECODE # or every process of a test run compiles all of it again

help:
	@echo "make demo    set up, then serve the app with demo data on http://127.0.0.1:$(PORT)"
	@echo "make test    set up, then run all checks and tests (Chromium included)"
	@echo "make check   style of code and templates, types and the arrows between the layers"
	@echo "make assets  rebuild styles, scripts, fonts and the schema (needs Node)"
	@echo "make attack  the tests that attack the app, twenty times as long (20 minutes at most)"
	@echo "make shots   refresh docs/screenshots from the demo data"

LOOPS := $(shell find src -name "*_loop.pyx")
BUILT := $(shell find src -name "*_loop.*.so")
ifneq ($(words $(LOOPS)),$(words $(BUILT)))
$(V)/.run: compile # a compiled loop is missing
endif
compile: ;

$(V)/.run: requirements-build.txt requirements.txt requirements-paper.txt pyproject.toml $(LOOPS)
	$(PY) -m venv $(V)
	$(BIN)/pip install -qq --require-hashes -r requirements-build.txt
	$(BIN)/pip install -qq --require-hashes -r requirements.txt -r requirements-paper.txt
	$(BIN)/pip install -qq --no-deps --no-build-isolation -e .
	@touch $@

$(V)/.dev: $(V)/.run requirements-dev.txt
	$(BIN)/pip install -qq --require-hashes -r requirements-dev.txt
	@touch $@

node_modules/.ok: package.json package-lock.json
	npm ci --loglevel=error
	@touch $@

assets: node_modules/.ok $(V)/.dev
	npm run -s vendor
	npm run -s css
	$(BIN)/python scripts/music_font.py
	$(BIN)/python scripts/paper_fonts.py
	for kind in plan rig wishes log piece; do $(BIN)/pathway schema $$kind > docs/$$kind.schema.json; done

# a browser for its tests, and recorded strings to listen to (without these some tests of takes are left out)
TOOLS := chromium-headless-shell fonts-dejavu-core fluidsynth timgm6mb-soundfont
HAS_CHROMIUM := { [ -n "$$CHROMIUM" ] || command -v chromium-headless-shell || command -v chromium; }
tools:
	@if $(HAS_CHROMIUM) && command -v fluidsynth; then :; \
	elif [ "$$(id -u)" = 0 ] && command -v apt-get; then \
	  export DEBIAN_FRONTEND=noninteractive; \
	  { apt-get update -qq && apt-get install -y -qq --no-install-recommends -o Dpkg::Use-Pty=0 $(TOOLS); } \
	    </dev/null >.apt.log 2>&1 || { tail -20 .apt.log >&2; exit 1; }; \
	elif ! $(HAS_CHROMIUM); then \
	  echo "The browser tests need Chromium. Run: sudo apt-get install -y $(TOOLS)" >&2; \
	  echo "or set CHROMIUM to its path." >&2; exit 2; \
	fi >/dev/null

demo: $(V)/.run
	$(BIN)/pathway serve --demo --port $(PORT)

check: $(V)/.dev
	$(BIN)/ruff format --check -q src tests scripts
	$(BIN)/ruff check -q src tests scripts
	$(BIN)/djlint --check --quiet src/pathway/web/templates
	$(BIN)/mypy --no-error-summary
	$(BIN)/lint-imports --no-cache >.imports.log || { cat .imports.log; exit 1; }

test: check node_modules/.ok tools
	$(BIN)/python -m pytest --ignore tests/browser -n 2 --dist loadfile
	$(BIN)/python -m pytest tests/browser -m "not listens" -n 2 --dist loadfile
	$(BIN)/python -m pytest tests/browser -m listens

ATTACKS := tests/formats/test_mutations.py tests/formats/test_safe_files.py tests/store/test_migrations.py \
	tests/store/test_backup.py tests/desk/test_together.py tests/web/test_guards.py tests/web/test_nonsense.py \
	tests/web/test_after_arrivals.py tests/store/test_keeper.py tests/desk/test_exchange.py \
	tests/web/test_turns.py tests/web/share tests/web/shelf/test_away.py tests/web/test_serving.py \
	tests/formats/test_engraver.py tests/store/test_database.py
attack: $(V)/.dev
	THOROUGH=20 timeout 1200 $(BIN)/python -m pytest $(ATTACKS)
	$(BIN)/python scripts/load.py 60

shots: $(V)/.dev tools
	$(BIN)/python scripts/shots.py

.PHONY: compile help assets tools demo check test attack shots
