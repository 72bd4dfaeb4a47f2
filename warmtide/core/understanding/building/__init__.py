"""Untextured renders of buildings: faces, planes, perspective, openings."""
