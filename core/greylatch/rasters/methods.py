"""The names of the kinds of resampling."""

RESAMPLINGS = ("nearest", "bilinear", "cubic", "average", "lanczos")
