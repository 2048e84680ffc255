"""An invented household: people, labels, patterns drafted by code, cloths, makes under way."""
