"""Labels whose colour varies by a field of their own: what each has, and what the key says of it."""

from dataclasses import replace

from greylatch.colour.readable import readable_on
from greylatch.encodings.by_category import ColourByCategory
from greylatch.encodings.channels import Encodings
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


def letter_ink(dataset: Dataset, lettering: Lettering) -> Ink:
    """Features in the colours of labels that differ by a field: shades that are read on the halo, unless they were chosen one by one. Those
    of which nothing is known are not drawn, and keep the colour of the first line.

    Parameters
    ----------
    dataset : Dataset
        The rows that are lettered.
    lettering : Lettering
        The labels of the layer.

    Returns
    -------
    Ink

    Raises
    ------
    BadInput
        As the encoding does.
    """
    colour = lettering.colour
    assert colour is not None
    coloured = ink(dataset, Symbols(encodings=Encodings(colour=colour.model_copy(update={"no_data": None}))))
    chosen = {each.colour for each in colour.categories} if isinstance(colour, ColourByCategory) else set()

    def shade(known: str) -> str:
        return known if known in chosen else readable_on(known, lettering.halo_colour)

    def shaded(mark: Mark) -> Mark:
        own = shade(mark.colour_of(dataset.kind))
        return replace(mark, fill=own, strokes=tuple(replace(line, colour=own) for line in mark.strokes))

    sections = tuple(
        replace(
            section,
            ramp=tuple(shade(each) for each in section.ramp),
            entries=tuple(replace(each, mark=each.mark and shaded(each.mark)) for each in section.entries),
        )
        for section in coloured.sections
    )
    return replace(
        coloured,
        palette=tuple(map(shaded, coloured.palette)),
        colours=tuple(map(shade, coloured.colours)),
        sections=sections,
    )


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
    if lettering is None or lettering.colours != "field":
        return ()
    (section,) = letter_ink(dataset, lettering).sections
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
