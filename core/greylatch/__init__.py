"""Grey Latch's core: the rules of thematic mapping, without a server, a database or a screen."""

__version__ = "0.1.0"
