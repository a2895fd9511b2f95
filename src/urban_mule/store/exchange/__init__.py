"""The public way in: a project from the bytes of its open JSON."""

from urban_mule.store.exchange.open_json import parse_project

__all__ = ["parse_project"]
