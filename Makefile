# make demo: see it.  make test: prove it.  Both set up everything they need.  make campaign: try to break it, for an hour.
VENV := .venv
PYTHON := $(VENV)/bin/python
STAMP := $(VENV)/.filled

.PHONY: setup demo test campaign check bench docs parts screenshots install uninstall clean

setup: $(STAMP)

$(STAMP): pyproject.toml tools/system-libraries
	python3 -m venv $(VENV)
	$(PYTHON) -m pip install --quiet --disable-pip-version-check --editable '.[dev]'
	$(PYTHON) -m compileall -q src
	tools/system-libraries
	touch $(STAMP)

demo: setup
	$(VENV)/bin/urban-mule demo

test: setup
	QT_QPA_PLATFORM=offscreen $(PYTHON) -m pytest -n auto --dist worksteal

campaign: setup
	QT_QPA_PLATFORM=offscreen $(PYTHON) -m tests.campaign

check: setup
	$(VENV)/bin/ruff check .
	$(VENV)/bin/mypy
	$(VENV)/bin/lint-imports

bench: setup
	$(PYTHON) -m compileall -q src
	$(PYTHON) benchmarks/run.py

docs: setup
	$(PYTHON) -m tools.write_docs

parts: setup
	$(PYTHON) -m tools.make_parts

screenshots: setup
	QT_QPA_PLATFORM=offscreen $(PYTHON) -m tools.screenshots

install:
	python3 tools/desktop.py install

uninstall:
	python3 tools/desktop.py remove

clean:
	rm -rf $(VENV) out build src/*.egg-info
