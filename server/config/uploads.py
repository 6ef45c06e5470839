"""Receiving files: into nameless temporary files, which are gone when their process is, and no more than was announced."""

import tempfile
from typing import Any

from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.core.files.uploadhandler import FileUploadHandler
from greylatch.errors import GreyLatchError


class TooLarge(GreyLatchError):
    """More arrives than may."""


class NamelessUpload(FileUploadHandler):
    """Keeps what arrives in a file without a name, up to the limit."""

    def new_file(self, *args: Any, **kwargs: Any) -> None:
        """Begin a file."""
        super().new_file(*args, **kwargs)
        settings.SCRATCH.mkdir(parents=True, exist_ok=True)
        self.file = tempfile.TemporaryFile(dir=settings.SCRATCH)  # noqa: SIM115 (closed with the request)
        self.received = 0

    def receive_data_chunk(self, raw_data: bytes, start: int) -> None:
        """Keep a piece."""
        self.received += len(raw_data)
        if self.received > settings.MAX_UPLOAD:
            raise TooLarge
        self.file.write(raw_data)

    def file_complete(self, file_size: int) -> UploadedFile:
        """Hand the file on."""
        self.file.seek(0)
        return UploadedFile(self.file, self.file_name, self.content_type, file_size, self.charset)

    def upload_interrupted(self) -> None:
        """Let go of what came so far."""
        if hasattr(self, "file"):
            self.file.close()
