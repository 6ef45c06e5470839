"""Killing what does the work, at random moments, and looking at what is left."""
