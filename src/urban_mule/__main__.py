"""`python -m urban_mule` is the command line."""

from urban_mule.cli import run

run()
