"""Loaded before the first file: everything that reading needs, compiled and tried."""

from bench.fuzz.through import warm

warm()
