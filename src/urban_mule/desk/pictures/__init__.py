"""One picture a stage, live and to scale, made from the real numbers."""
