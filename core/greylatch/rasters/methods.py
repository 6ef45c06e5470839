"""The names of the kinds of resampling."""

__all__ = ["RESAMPLINGS"]

RESAMPLINGS = ("nearest", "bilinear", "cubic", "average", "lanczos")
