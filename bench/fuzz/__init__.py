"""Files that nobody would send on purpose, through everything that reads files."""
