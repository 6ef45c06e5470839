"""The beginning of an XML document: which element it begins with, and that it declares nothing of its own."""

import codecs
import re
from pathlib import Path

from greylatch.errors import BadFile

__all__ = ["check_xml", "xml_root"]

_SKIPPED = re.compile(r"\s+|<\?.*?\?>|<!--.*?-->", re.S)
_ELEMENT = re.compile(r"<(?:[\w.-]+:)?([A-Za-z_][\w.-]*)[\s/>]")
_PROLOG = 1 << 20
"""Bytes within which the first element must begin."""


def xml_root(head: bytes) -> str | None:
    """The local name of the first element; None where the bytes begin no XML.

    >>> xml_root(b'<?xml version="1.0"?><!-- of a walk --><gpx version="1.1">')
    'gpx'
    """
    text = _text(head)
    at = _after_prolog(text)
    element = _ELEMENT.match(text, at)
    return element[1] if element else None


def check_xml(path: str | Path) -> None:
    """Raise BadFile for a document that declares a type or entities: what they stand for may lie in other files, or be larger
    than any memory. (As defusedxml does.)

    Parameters
    ----------
    path : str | Path
        The file.

    Raises
    ------
    BadFile
        For such a document, and for one whose first element does not come soon.
    """
    with open(path, "rb") as file:
        text = _text(file.read(_PROLOG))
    at = _after_prolog(text)
    if text.startswith(("<!DOCTYPE", "<!ENTITY"), at):
        raise BadFile(
            "The file declares a document type or entities of its own, which are not read.",
            "Take its <!DOCTYPE …> out.",
        )
    if not _ELEMENT.match(text, at):
        raise BadFile("The file begins with no element that could be read.")


def _text(head: bytes) -> str:
    if head.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return head[: len(head) // 2 * 2].decode("utf-16", "replace")
    return head.removeprefix(codecs.BOM_UTF8).decode("utf-8", "replace")


def _after_prolog(text: str) -> int:
    at = 0
    while skipped := _SKIPPED.match(text, at):
        at = skipped.end()
    return at
