"""Labels whose colour varies by a field of their own: what each has, and what the key says of it."""

from dataclasses import replace

from greylatch.encodings.channels import Encodings, LetterEncoding
from greylatch.sheet.lettering import Lettering
from greylatch.sheet.symbology import Symbols
from greylatch.symbols.ink import Ink, ink
from greylatch.symbols.look import Section
from greylatch.symbols.marks import Mark
from greylatch.symbols.pins import sign_path
from greylatch.tables.dataset import Dataset

__all__ = ["LETTERS", "letter_ink", "letter_sections"]

LETTERS = "letters"
"""The channel of the key that is about labels."""
SAMPLE, SAMPLE_SIZE = "Aa", 12.0
"""What stands before a line of the key, and its size in px."""


def letter_ink(dataset: Dataset, colour: LetterEncoding) -> Ink:
    """Features in the colours of their labels; those of which nothing is known are not drawn, and keep the colour of the first line.

    Parameters
    ----------
    dataset : Dataset
        The rows that are lettered.
    colour : LetterEncoding
        By what their labels differ.

    Returns
    -------
    Ink

    Raises
    ------
    BadInput
        As the encoding does.
    """
    return ink(dataset, Symbols(encodings=Encodings(colour=colour.model_copy(update={"no_data": None}))))


def letter_sections(dataset: Dataset, lettering: Lettering | None) -> tuple[Section, ...]:
    """What the key says of the colours of labels: letters in each; nothing where these don't vary by a field of their own.

    Parameters
    ----------
    dataset : Dataset
        The rows that are lettered.
    lettering : Lettering | None
        The labels of the layer.

    Returns
    -------
    tuple[Section, ...]

    Raises
    ------
    BadInput
        As the encoding does.
    """
    if lettering is None or lettering.colours != "field" or lettering.colour is None:
        return ()
    (section,) = letter_ink(dataset, lettering.colour).sections
    entries = tuple(
        replace(
            entry,
            id=f"{LETTERS}: {entry.id}",
            limits=None,
            mark=entry.mark and _sample(entry.mark.colour_of(dataset.kind)),
        )
        for entry in section.entries
        if not entry.no_data
    )
    return (replace(section, heading="Labels", channel=LETTERS, entries=entries),)


def _sample(colour: str) -> Mark:
    return Mark(colour, 0.0, radius=SAMPLE_SIZE, sign=sign_path(SAMPLE), sign_colour=colour)
