# make demo   the invented household on 127.0.0.1
# make serve  your own data
# make test   linter, types, every test (installs Debian's chromium when it is missing)
# make quick  what can be told in a minute, without a browser, for the hand at work
VENV ?= .venv
BIN := $(VENV)/bin
PORT ?= 8765
# Photographs are large arrays, made and freed again and again: kept by the process, they cost it half the time in the kernel.
KEEPING := MALLOC_MMAP_THRESHOLD_=268435456 MALLOC_TRIM_THRESHOLD_=536870912 MALLOC_TOP_PAD_=67108864

# Python keeps what it compiled: without it every worker, server and test process compiles the whole application anew.
unexport PYTHONDONTWRITEBYTECODE

.PHONY: setup dev demo serve test quick heavy reachable bench screenshots lock clean

setup: $(VENV)/.ready
dev: $(VENV)/.ready-dev

$(BIN)/python:
	sh scripts/need_venv.sh
	python3.11 -m venv $(VENV)

$(VENV)/.ready: requirements.txt pyproject.toml | $(BIN)/python
	$(BIN)/pip install --quiet --disable-pip-version-check --require-hashes -r requirements.txt
	$(BIN)/pip install --quiet --disable-pip-version-check --no-deps --editable .
	@echo "Compiling the nester, once (half a minute)"
	$(BIN)/rowanseed warm
	touch $@

$(VENV)/.ready-dev: requirements-dev.txt $(VENV)/.ready
	$(BIN)/pip install --quiet --disable-pip-version-check --require-hashes -r requirements-dev.txt
	touch $@

demo: setup
	$(BIN)/rowanseed demo --port $(PORT)

serve: setup
	$(BIN)/rowanseed serve --port $(PORT)

test: dev
	sh scripts/need_chromium.sh
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports
	$(KEEPING) $(BIN)/pytest -n auto --dist loadfile

quick: dev
	$(BIN)/ruff check .
	$(KEEPING) $(BIN)/pytest -n auto --dist loadfile --quick

# Which tests are too dear for `make quick` is measured, not guessed.
heavy: dev
	rm -f build/costs.txt; mkdir -p build
	ROWANSEED_COSTS=build/costs.txt $(KEEPING) $(BIN)/pytest -p tests.costs -n auto --dist loadfile -m "not browser and not wide"
	ROWANSEED_COSTS=build/costs.txt $(BIN)/python -m tests.costs

reachable: dev
	sh scripts/need_chromium.sh
	$(BIN)/pytest -n auto -m wide

bench: dev
	$(BIN)/python -m bench.run
	$(BIN)/python -m bench.alter
	$(BIN)/python -m bench.prints
	$(BIN)/python -m bench.yardage
	$(BIN)/python -m bench.orders --count 500
	$(BIN)/python -m bench.intake
	$(BIN)/python -m bench.fuzz --count 1000
	$(BIN)/python -m bench.several
	$(BIN)/python -m bench.start
	$(BIN)/python -m bench.soak --minutes 2
	$(BIN)/python -m bench.survive --minutes 6
	$(BIN)/python -m bench.hostile
	$(BIN)/python -m bench.scale

screenshots: dev
	sh scripts/need_chromium.sh
	$(BIN)/python scripts/screenshots.py

lock:
	$(BIN)/pip-compile --quiet --no-emit-index-url --no-emit-find-links --generate-hashes --strip-extras -o requirements.txt pyproject.toml
	$(BIN)/pip-compile --quiet --no-emit-index-url --no-emit-find-links --generate-hashes --strip-extras --extra dev -o requirements-dev.txt pyproject.toml

clean:
	rm -rf $(VENV) build *.egg-info
