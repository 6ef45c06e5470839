"""Cards of an edition: filled and made safe once, in blocks that a page fetches as it needs them."""

import json
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from greylatch.edition.attached_files import PICTURES
from greylatch.paint.passes import VectorPass
from greylatch.reading.attached import AttachedTo, figures
from greylatch.reading.card import render_card
from greylatch.sheet.document import Sheet
from greylatch.symbols.ink import UNDRAWN
from greylatch.tables.fieldtypes import plain

__all__ = ["write_cards"]

NONE: AttachedTo = {}
BLOCK = 48_000
"""Characters after which a block is full: a card is at hand after one small file."""


def write_cards(sheet: Sheet, vector: VectorPass, out: Path, attached: AttachedTo = NONE) -> list[int]:
    """Write the cards of all drawn features of a layer to `cards/<layer>/0.json` and on in the folder `out`, each an
    object from fid to HTML; returns the first fid of each block.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    vector : VectorPass
        The drawing pass of the layer.
    out : Path
        The folder of the edition.
    attached : AttachedTo
        Pictures by the fid of their feature.

    Returns
    -------
    list[int]

    Raises
    ------
    BadInput
        With the place of a mistake in the template.
    """
    home = out / "cards" / vector.layer.id
    home.mkdir(parents=True)
    starts: list[int] = []
    block: dict[int, str] = {}
    written = 0
    for fid, html in filled_cards(sheet, vector, attached):
        if not block:
            starts.append(fid)
        block[fid] = html
        written += len(html)
        if written > BLOCK:
            _write(home / f"{len(starts) - 1}.json", block)
            block, written = {}, 0
    if block:
        _write(home / f"{len(starts) - 1}.json", block)
    return starts


def filled_cards(sheet: Sheet, vector: VectorPass, attached: AttachedTo = NONE) -> Iterator[tuple[int, str]]:
    """Fid and card of every drawn feature, in the order of fids."""
    data = vector.source.dataset
    for row in np.flatnonzero(vector.ink.mark != UNDRAWN).tolist():
        fid = int(data.fids[row])
        values = {name: plain(value) for name, value in data.shown(fid).items()}
        card = render_card(vector.layer.card, values, sheet.pictures_from)
        yield fid, card + figures(attached.get(fid, ()), f"{PICTURES}/")


def _write(path: Path, block: dict[int, str]) -> None:
    path.write_text(json.dumps(block, ensure_ascii=False), "utf-8")
