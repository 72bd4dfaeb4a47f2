"""Figures, growth and craft of Lantern Quay as SVG, drawn by programs, to be laid into pictures by the Hand."""
