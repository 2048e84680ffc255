"""The JSON interface, version 1: the same computation as the pages."""
