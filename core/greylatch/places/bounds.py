"""The box around something."""

__all__ = ["Bounds"]

Bounds = tuple[float, float, float, float]
"""West, south, east, north: the least and greatest x and y of a box in whatever it is given in."""
