"""What pages and JSON share, without HTML or SQL: a make worked out once for each version, long work begun once."""
