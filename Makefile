# make demo: see it.  make test: prove it.  Both set up everything they need.  make campaign: try to break it, for an hour.
VENV := .venv
PYTHON := $(VENV)/bin/python
QUICKEST = "$$(tools/quickest-python)"
STAMP := $(VENV)/.filled
export PYTHONDONTWRITEBYTECODE :=  # else two hundred files of tests are prepared anew at every run, for ten seconds

.PHONY: setup demo test campaign check bench docs honesty proofs parts screenshots constraints lowest install uninstall wheel deb release clean

setup: $(STAMP)

$(STAMP): pyproject.toml constraints.txt tools/system-libraries
	$(QUICKEST) -m venv $(VENV)
	$(PYTHON) -m pip install --quiet --disable-pip-version-check --constraint constraints.txt --editable '.[dev]'
	$(PYTHON) -m compileall -q src
	$(PYTHON) -m urban_mule.demo.kept
	tools/system-libraries
	touch $(STAMP)

demo: setup
	$(VENV)/bin/urban-mule demo

test: setup
	QT_QPA_PLATFORM=offscreen $(PYTHON) -m pytest -n auto --dist worksteal

campaign: setup
	QT_QPA_PLATFORM=offscreen $(PYTHON) -m pytest -n auto --dist worksteal -m long -o faulthandler_timeout=1200
	QT_QPA_PLATFORM=offscreen $(PYTHON) -m tests.campaign

check: setup
	$(VENV)/bin/ruff check .
	$(VENV)/bin/mypy
	$(VENV)/bin/lint-imports

bench: setup
	$(PYTHON) -m compileall -q src
	$(PYTHON) benchmarks/run.py
	$(PYTHON) benchmarks/against.py
	$(PYTHON) benchmarks/where.py

docs: setup
	$(PYTHON) -m tools.write_docs

honesty: setup
	$(PYTHON) -m tools.honesty

proofs: setup
	$(PYTHON) -m tools.proofs

parts: setup
	$(PYTHON) -m tools.make_parts

constraints:  # the newest of everything, as a fresh machine would get it
	$(QUICKEST) -m venv $(VENV)-newest
	$(VENV)-newest/bin/python -m pip install --quiet --disable-pip-version-check '.[dev]'
	echo '# The exact versions that `make setup` and `make install` take: those that this tree was tried with. Written by `make constraints`.' > constraints.txt
	$(VENV)-newest/bin/python -m pip freeze --all --disable-pip-version-check --exclude urban-mule --exclude pip >> constraints.txt
	rm -rf $(VENV)-newest

lowest: setup  # the suite with the lowest versions that pyproject.toml allows
	$(QUICKEST) -m venv $(VENV)-lowest
	$(PYTHON) -m tools.lowest > $(VENV)-lowest/lowest.txt
	$(VENV)-lowest/bin/python -m pip install --quiet --disable-pip-version-check -r $(VENV)-lowest/lowest.txt --editable .
	QT_QPA_PLATFORM=offscreen $(VENV)-lowest/bin/python -m pytest -n auto --dist worksteal

screenshots: setup
	QT_QPA_PLATFORM=offscreen $(PYTHON) -m tools.screenshots

install:
	$(QUICKEST) tools/desktop.py install

uninstall:
	python3 tools/desktop.py remove

wheel: setup  # a wheel and a source archive in out/, without network
	$(PYTHON) -m tools.package wheel

deb: setup  # a Debian package in out/
	$(PYTHON) -m tools.package deb

release: setup  # make release VERSION=x.y.z: all checks, then the version and its notes are written
	$(PYTHON) -m tools.release $(VERSION)

clean:
	rm -rf $(VENV) out build src/*.egg-info
