"""From the lines of a file or a picture to pattern pieces: what is a piece, which size, which mark."""
