"""Urban Mule: size, set, measure and prove the axes of machines that move."""

__version__ = "0.1.0"
