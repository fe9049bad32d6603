# Two commands are enough: `make demo` to try Frequens, `make test` to check it.
SHELL := /bin/bash
# The environment of some build machines forbids it, and every start then takes seconds longer.
export PYTHONDONTWRITEBYTECODE :=
.DELETE_ON_ERROR:
.PHONY: demo serve lan dev wheel mutants test test-long check check-python check-web lint-web check-tsc check-types test-core test-tools test-python test-postgres test-browser test-web test-web-alone test-web-judged bench screenshots lint format types lock clean

PYTHON ?= python3
BIN := .venv/bin
MANAGE := $(BIN)/python -m frequens.server.manage
SUDO := $(shell [ "$$(id -u)" = 0 ] || echo sudo)
WEB_SOURCES := $(shell find web/src web/public -type f) web/index.html web/vite.config.ts web/tsconfig.json
# The screens are built once this is there.
SCREENS := web/dist/index.html.gz
# Tests and benches look for the machine's own browser; nothing is downloaded for it.
apt_get = $(SUDO) apt-get update -qq && $(SUDO) env DEBIAN_FRONTEND=noninteractive apt-get -o DPkg::Lock::Timeout=600 install -y -qq --no-install-recommends
apt_for = command -v $(1) >/dev/null || { $(apt_get) $(2); }

demo: .venv/.ready $(SCREENS)
	@$(MANAGE) serve_demo

# Without demo data, for work of one's own.
serve: .venv/.ready $(SCREENS)
	@$(MANAGE) serve

# For phones on the same network as well, over HTTPS.
lan: .venv/.ready $(SCREENS)
	@$(MANAGE) serve --lan

# Both halves reload as one writes; the database and films are the demo's.
dev: .venv/.ready-dev web/node_modules/.ready $(SCREENS)
	@$(BIN)/python tools/dev.py

# Which tests `test-python` and `test-browser` try, by their marks.
TESTS ?= not long
# Beside one another; what each said stands together.
AT_ONCE = $(MAKE) --no-print-directory -O

# What all of it stands on is brought at once; the server's and the browser's tests come one after
# another, as both at once are no sooner done and tests that measure an instant would be held up by the
# others. Style and types are `make lint`'s.
test:
	@$(AT_ONCE) -j4 PACKAGES=requirements-dev.txt test-tools .venv/.ready-dev $(SCREENS) test-web
	@$(MAKE) --no-print-directory test-python
	@$(MAKE) --no-print-directory test-browser

# What `make test` leaves: what is repeated to be sure, what brings whole houses down, what leaves the
# main path of a screen.
test-long:
	@$(MAKE) --no-print-directory test-python TESTS=long
	@$(MAKE) --no-print-directory test-browser TESTS=long

# What one runs often: everything but films, the server and the browser.
check: .venv/.ready-dev web/node_modules/.ready
	@$(AT_ONCE) -j2 check-python check-web test-web test-core

# -- what the targets stand on ---------------------------------------------------------

.venv/bin/python:
	@$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11))' || { echo "Frequens needs Python 3.11 or newer."; exit 1; }
	@$(PYTHON) -c 'import ensurepip' 2>/dev/null || { $(apt_get) python3-venv; }
	$(PYTHON) -m venv .venv
	@$(pip_install) --upgrade pip

# The pip that Python brings takes twice as long as today's: it is brought up to date first. What the
# tests need holds what runs Frequens, in the same versions: who needs it anyway takes it at once.
# Packages are compiled as they are used, as most of them never are.
PACKAGES = requirements.txt
pip_install = $(BIN)/pip install -q --disable-pip-version-check --no-compile
# pip works on one core: two take half of a list each. The lists are whole, so nothing else is looked
# for, and afterwards it is checked that nothing is missing.
define install_list
	@echo "installing $(1)"
	@halves=$$(mktemp -d); trap 'rm -rf $$halves' EXIT; \
	awk -v halves=$$halves '/^[^ \#]/ { n++ } { print > (halves "/" n % 2) }' $(1); \
	$(pip_install) --no-deps --require-hashes -r $$halves/0 & other=$$!; \
	$(pip_install) --no-deps --require-hashes -r $$halves/1; mine=$$?; \
	wait $$other && exit $$mine
	$(pip_install) --no-deps -e .
	@$(BIN)/pip --disable-pip-version-check check >/dev/null || $(BIN)/pip check
endef
.venv/.ready: requirements.txt pyproject.toml | .venv/bin/python
	$(call install_list,$(PACKAGES))
	@cp $(PACKAGES) $@

.venv/.ready-dev: requirements-dev.txt .venv/.ready
	$(if $(shell cmp -s requirements-dev.txt .venv/.ready || echo other),$(call install_list,requirements-dev.txt))
	@touch $@

web/node_modules/.ready: web/package-lock.json web/package.json
	@node -e 'process.exit(+(process.versions.node.split(".")[0] < 20))' || { echo "Frequens needs Node 20 or newer."; exit 1; }
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

web/dist/index.html: $(WEB_SOURCES) web/node_modules/.ready
	cd web && npm run -s build

# Compressed once, so that nobody waits for it.
$(SCREENS): web/dist/index.html | .venv/.ready
	$(BIN)/python -m whitenoise.compress -q web/dist
	@touch -c $@

# -- checks ----------------------------------------------------------------------------

check-python: .venv/.ready-dev
	$(BIN)/ruff check src tests bench tools
	$(BIN)/ruff format --check src tests bench tools
	$(BIN)/mypy
	$(BIN)/lint-imports
	$(MANAGE) makemigrations --check --dry-run

check-web: lint-web check-tsc check-types

lint-web: web/node_modules/.ready
	cd web && npm run -s lint

check-tsc: web/node_modules/.ready
	cd web && npm run -s check

check-types: types
	git diff --exit-code -- web/src/api/schema.d.ts

test-web: test-web-alone test-web-judged

# Needs nothing of Python's: it need not wait for it.
test-web-alone: web/node_modules/.ready
	cd web && npm run -s test -- --exclude 'tests/judged/**'

# What both halves judge: the core makes the cases.
test-web-judged: web/node_modules/.ready .venv/.ready-dev
	$(BIN)/python -m tools.judged_cases web/tests/.made/judged-cases.json
	cd web && npm run -s test -- tests/judged

# The core needs no Django; so its tests have none. Those that take long are left to `make test-long`.
test-core: .venv/.ready-dev
	$(BIN)/pytest -q -p no:django -n 2 -m 'not long' tests/core

# Commands from the machine's own packages, which have the same names.
test-tools: | .venv/bin/python
	@missing=; \
	for tool in chromium-headless-shell strace espeak-ng flite; do \
	  command -v $$tool >/dev/null || missing="$$missing $$tool"; \
	done; \
	[ -z "$$missing" ] || { $(apt_get) $$missing; }

test-python: .venv/.ready-dev $(SCREENS) test-tools
	$(BIN)/pytest -n 3 --dist loadfile -m '$(TESTS)' tests/core tests/media tests/server

# The server once more, on a PostgreSQL of its own.
test-postgres: .venv/.ready-dev $(SCREENS)
	@$(call apt_for,pg_lsclusters,postgresql)
	@$(call apt_for,redis-server,redis-server)
	$(BIN)/python -m tests.postgres $(BIN)/pytest -n 3 --dist loadfile tests/server

test-browser: .venv/.ready-dev $(SCREENS) test-tools
	$(BIN)/pytest -n 3 --dist loadfile -m '$(TESTS)' tests/browser

lint: .venv/.ready-dev web/node_modules/.ready
	@$(AT_ONCE) -j2 check-python check-web

format: .venv/.ready-dev web/node_modules/.ready
	$(BIN)/ruff check --fix src tests bench tools
	$(BIN)/ruff format src tests bench tools
	cd web && npm run -s format

# The front end's types are made from the API itself. The file is left alone where they are the same:
# what reads it beside this sees it whole, and nothing is built anew.
types: .venv/.ready web/node_modules/.ready
	@$(BIN)/python tools/openapi.py web/openapi.json
	@set -o pipefail; cd web && new=$$(mktemp) \
	  && npm run -s types | npx prettier --stdin-filepath src/api/schema.d.ts >$$new \
	  && { cmp -s $$new src/api/schema.d.ts || cat $$new >src/api/schema.d.ts; rm $$new; }

# One file that runs without this checkout: the screens go along.
wheel: .venv/.ready-dev $(SCREENS)
	rm -rf build src/frequens/server/screens
	cp -r web/dist src/frequens/server/screens
	$(BIN)/pip wheel -q --disable-pip-version-check --no-deps --no-build-isolation -w dist .
	rm -rf build src/frequens/server/screens
	@ls dist/*.whl

# -- on request ------------------------------------------------------------------------

bench: .venv/.ready-dev $(SCREENS)
	@$(call apt_for,chromium-headless-shell,chromium-headless-shell)
	@$(call apt_for,ffprobe,ffmpeg)
	$(BIN)/python -m bench

# make mutants ROOM=core KIND=left-out MOST=300 SEED=2; without a room, what changed since the last commit but one
mutants: .venv/.ready-dev $(SCREENS)
	$(BIN)/python -m tools.mutants $(if $(ROOM),--room $(ROOM)) --kind $(or $(KIND),both) --most $(or $(MOST),200) --seed $(or $(SEED),1)

screenshots: .venv/.ready-dev $(SCREENS)
	@$(call apt_for,chromium-headless-shell,chromium-headless-shell)
	$(BIN)/python tools/screenshots.py docs/screenshots

# What is shipped is what was tested: the same versions everywhere.
lock: .venv/.ready-dev
	$(pip_install) uv
	$(BIN)/uv pip compile -q --generate-hashes --extra dev pyproject.toml -o requirements-dev.txt
	$(BIN)/uv pip compile -q --generate-hashes -c requirements-dev.txt pyproject.toml -o requirements.txt
	$(BIN)/uv pip compile -q --generate-hashes -c requirements-dev.txt --extra servers pyproject.toml -o requirements-servers.txt

clean:
	rm -rf .venv web/node_modules web/dist
