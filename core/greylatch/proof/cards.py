"""What is amiss in a layer's card: fields that are not there, pictures of which it does not say whose they are."""

from greylatch.errors import BadTemplate
from greylatch.paint.passes import VectorPass
from greylatch.proof.finding import Finding
from greylatch.reading.card import shows_uncredited, unknown_placeholders
from greylatch.sheet.layers import Layer
from greylatch.tables.fieldtypes import plain

__all__ = ["findings_of_card"]

LOOKED_AT = 100
"""Rows whose cards are looked at."""


def findings_of_card(layer: Layer, vector: VectorPass) -> list[Finding]:
    """What is amiss in the card of a layer; nothing where it has none.

    Parameters
    ----------
    layer : Layer
        The layer.
    vector : VectorPass
        Its data.

    Returns
    -------
    list[Finding]
    """
    if not layer.card:
        return []
    columns = vector.source.dataset.columns
    try:
        unknown = unknown_placeholders(layer.card, columns.column_names)
        uncredited = "![" in layer.card and any(
            shows_uncredited(layer.card, {name: plain(value) for name, value in row.items()})
            for row in columns.slice(0, LOOKED_AT).to_pylist()
        )
    except BadTemplate as error:
        return [
            Finding(f"card:{layer.id}", layer.id, "explain", f"The card of '{layer.name}' cannot be read", str(error))
        ]
    findings = [
        Finding(
            f"placeholder-{name}:{layer.id}",
            layer.id,
            "explain",
            f"The card of '{layer.name}' asks for '{name}'",
            "There is no such field, so that place stays empty.",
        )
        for name in unknown
    ]
    if uncredited:
        findings.append(
            Finding(
                f"picture-credit:{layer.id}",
                layer.id,
                "explain",
                f"The card of '{layer.name}' shows pictures and does not say whose they are",
                'Write it in quotes behind the address: ![words]({{ photo }} "{{ photo_by }}").',
            )
        )
    return findings
