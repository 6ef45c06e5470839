"""The Vaskerry Isles: an invented group of islands, generated from a seed. Nothing in it is real."""
