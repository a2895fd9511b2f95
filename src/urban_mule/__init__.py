"""Urban Mule: size, set, measure and prove the axes of machines that move."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # before NumPy comes: matrices here are small, its threads wait for each other

__version__ = "0.1.0"
