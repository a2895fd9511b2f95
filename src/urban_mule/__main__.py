"""`python -m urban_mule` is the command line."""

import sys

from urban_mule.cli import main

sys.exit(main())
