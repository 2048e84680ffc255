"""The trade in Python: no interface code, no SQL, no files, no clock."""
