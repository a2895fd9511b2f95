"""The project file, its history, and open formats in and out."""
