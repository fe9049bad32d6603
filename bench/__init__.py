"""Benches: each compares two ways in one run and prints their ratio."""
