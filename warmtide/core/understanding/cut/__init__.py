"""A part of a picture cut out of it: found in one go, mended by strokes, with soft edges and clean colours."""
