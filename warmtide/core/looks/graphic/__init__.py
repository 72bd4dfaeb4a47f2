"""Looks of clean areas."""
