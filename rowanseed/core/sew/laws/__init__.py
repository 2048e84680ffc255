"""The laws of construction by kind: what has to be done before what on one garment, and why."""
