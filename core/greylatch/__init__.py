"""Grey Latch's core: the rules of thematic mapping, without a server, a database or a screen."""

import os

__version__ = "0.1.0"

# PROJ fetches no grid from the network for anybody; this one word reaches all copies of it that the libraries bring.
os.environ["PROJ_NETWORK"] = "OFF"
