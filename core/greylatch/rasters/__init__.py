"""Rasters: what they are, reading just what is needed, shading, colouring."""

import os

# GDAL would take a twentieth of the machine's memory as a cache in every process. It reads this before its first file.
os.environ.setdefault("GDAL_CACHEMAX", "192")
