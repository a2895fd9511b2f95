"""The demo machine and its made-up measurements, built by code with a fixed seed."""
