"""A file cache that is as fast with a million entries as with ten."""

import os
import pickle
import random
import zlib
from pathlib import Path
from typing import IO, Any

from django.core.cache.backends.base import DEFAULT_TIMEOUT
from django.core.cache.backends.filebased import FileBasedCache

SHARDS = 256
LOOK_EVERY = 64


class ShardedFileCache(FileBasedCache):
    """Django's file cache, whose own way is to list its whole folder at every write. Entries lie in 256 folders by their
    name, and now and then one folder, taken at random, is thinned out where it holds more than its share.

    Entries are not packed: pictures are already, and to pack one again takes longer than to paint what changed in it."""

    def _key_to_file(self, key: Any, version: Any = None) -> str:
        whole = Path(super()._key_to_file(key, version))
        return str(whole.parent / whole.name[:2] / whole.name)

    def set(self, key: Any, value: Any, timeout: Any = DEFAULT_TIMEOUT, version: Any = None) -> None:
        """Keep a value."""
        Path(self._key_to_file(key, version)).parent.mkdir(mode=0o700, parents=True, exist_ok=True)
        super().set(key, value, timeout, version)

    def _write_content(self, file: IO[bytes], timeout: Any, value: Any) -> None:
        # In the form that Django reads, which is unpacked as fast as it is copied.
        file.write(pickle.dumps(self.get_backend_timeout(timeout), self.pickle_protocol))
        file.write(zlib.compress(pickle.dumps(value, self.pickle_protocol), zlib.Z_NO_COMPRESSION))

    def _cull(self) -> None:
        if random.randrange(LOOK_EVERY):  # noqa: S311 (no secret)
            return
        folder = Path(self._dir) / f"{random.randrange(SHARDS):02x}"  # noqa: S311
        try:
            names = [entry.path for entry in os.scandir(folder) if entry.name.endswith(self.cache_suffix)]
        except FileNotFoundError:
            return
        share = max(1, self._max_entries // SHARDS)
        if len(names) > share:
            for name in random.sample(names, len(names) - share * 2 // 3):
                self._delete(name)

    def _list_cache_files(self) -> list[str]:
        return [str(path) for path in Path(self._dir).glob(f"??/*{self.cache_suffix}")]
