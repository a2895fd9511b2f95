"""Pure computation in SI units: no interface, no files, no clock, no unseeded randomness."""
