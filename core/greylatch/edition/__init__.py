"""What leaves: what readers get of a sheet."""
