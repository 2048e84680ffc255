"""Pattern files of other makers: SVG, DXF and PDF read into lines, in a process of its own with limits."""
