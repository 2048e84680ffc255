"""The one shape of a piece, at the bottom of the core: cutting line, seam line, allowance by edge, fold, notches, marks, edges."""
