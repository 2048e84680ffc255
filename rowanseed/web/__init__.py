"""The interface: pages, fragments and the JSON interface."""

from rowanseed.web.app import create_app

__all__ = ["create_app"]
