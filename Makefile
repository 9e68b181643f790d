# One target, one thing. `make demo` and `make test` set up what they need.
PY := .venv/bin/python

.PHONY: demo test lint fuzz faults bench shots golden lock
.DEFAULT_GOAL := demo

.venv/.runtime: requirements.lock pyproject.toml
	@command -v python3.11 >/dev/null || command -v python3 >/dev/null || { echo "Sorvek needs Python 3.11: install python3.11 and python3.11-venv"; exit 1; }
	@test -x $(PY) || $$(command -v python3.11 || command -v python3) -m venv .venv
	$(PY) -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements.lock
	$(PY) -m pip install --quiet --disable-pip-version-check --no-deps -e .
	@touch $@

.venv/.dev: .venv/.runtime requirements-dev.lock
	$(PY) -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements-dev.lock
	@touch $@

demo: .venv/.runtime
	.venv/bin/sorvek demo

test: lint .venv/.dev
	@sh scripts/browser.sh
	$(PY) -m pytest --numprocesses 2 --dist loadfile

lint: .venv/.dev
	.venv/bin/ruff format --check src tests scripts
	.venv/bin/ruff check src tests scripts
	.venv/bin/mypy

fuzz: .venv/.dev
	$(PY) scripts/fuzz.py

faults: .venv/.dev
	$(PY) scripts/faults.py 200
	$(PY) scripts/floor_faults.py 200

bench: .venv/.dev
	.venv/bin/sorvek bench

shots: .venv/.dev
	@sh scripts/browser.sh
	$(PY) scripts/shots.py

golden: .venv/.dev
	GOLDEN=write $(PY) -m pytest tests -k golden

lock: .venv/.dev
	.venv/bin/pip-compile -q --strip-extras --no-emit-index-url --no-emit-find-links --generate-hashes --allow-unsafe -o requirements.lock pyproject.toml
	.venv/bin/pip-compile -q --strip-extras --no-emit-index-url --no-emit-find-links --generate-hashes --allow-unsafe --extra dev -o requirements-dev.lock pyproject.toml
