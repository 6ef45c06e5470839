"""Proof: what a careful editor would catch before readers do."""

from collections.abc import Callable, Mapping
from typing import Any

from greylatch.classes.values import meaning_of
from greylatch.colour.difference import CLOSE, alike, least_apart
from greylatch.colour.ramps import RAMPS, ramp_colours
from greylatch.encodings.by_classes import ColourByClasses
from greylatch.errors import BadInput, CannotDraw
from greylatch.lettering.shaping import missing_letters
from greylatch.paint.lettered import to_letter
from greylatch.paint.passes import RasterPass, VectorPass, pass_of
from greylatch.paint.sources import Find
from greylatch.proof.asked import amiss_in
from greylatch.proof.cards import findings_of_card
from greylatch.proof.finding import Finding
from greylatch.proof.proportion import in_true_areas, uneven
from greylatch.proof.provenance import Provenance, with_credits
from greylatch.proof.seen import Seen, colours_on_the_map, keyed_as_seen
from greylatch.sheet.document import Sheet
from greylatch.sheet.layers import Layer
from greylatch.sheet.parts import RampChoice
from greylatch.sheet.reader import Reader
from greylatch.sheet.symbology import Symbols
from greylatch.wording import counted

__all__ = ["findings", "mend"]

TOO_MANY_CLASSES = 7
"""More than about five to seven classes can't be held in mind. Common practice."""


def findings(sheet: Sheet, find: Find, provenance: Mapping[str, Provenance] | None = None) -> list[Finding]:
    """Everything to look at on `sheet`, layer by layer from the top; accepted findings carry their reason.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    find : Find
        Gives the source of a dataset's name in a frame.
    provenance : Mapping[str, Provenance] | None
        Where the datasets come from, by their name.

    Returns
    -------
    list[Finding]
    """
    known = provenance or {}
    doubts: list[Finding] = []
    for layer in sheet.layers:
        if not layer.visible:
            continue
        doubts += _of_layer(layer, find, known.get(layer.dataset, Provenance()))
    if not sheet.layers:
        doubts.append(Finding("empty", None, "gather", "The map has no layer", "There is nothing to read yet."))
    for what, why, without in amiss_in(sheet, find):
        doubts.append(
            Finding(
                f"asked:{what}", None, "explain", f"{what} is left out of the page: {why}", "Readers would miss what the map promises them.",
                "Take it out", _reading(without),
            )
        )  # fmt: skip
    if sheet.layers and not sheet.furniture.credits.strip():
        doubts.append(
            Finding(
                "no-credits",
                None,
                "publish",
                "No credits",
                "Readers cannot see whose data this is.",
                "Name the sources as credits",
                lambda s: _with_credits(s, known),
            )
        )
    for layer in sheet.layers:
        if sheet.shown(layer):
            doubts += _on_the_map(layer, colours_on_the_map(sheet, layer, find))
    ratio = uneven(sheet, find)
    if ratio is not None:
        doubts.append(
            Finding(
                "uneven-areas", None, "draw", "Areas of one size are drawn in different sizes",
                f"The projection makes some {ratio:.1f} times as large as others, and large ones catch more of the eye.",
                "Use a projection that keeps areas", lambda s: in_true_areas(s, find),
            )
        )  # fmt: skip
    reasons = {acceptance.finding: acceptance.reason for acceptance in sheet.accepted}
    return [_accepted(finding, reasons.get(finding.id)) for finding in doubts]


def mend(sheet: Sheet, finding: str, find: Find, provenance: Mapping[str, Provenance] | None = None) -> Sheet:
    """The sheet with one finding mended.

    Parameters
    ----------
    sheet : Sheet
        The sheet.
    finding : str
        The id of the finding.
    find : Find
        Gives the source of a dataset's name in a frame.
    provenance : Mapping[str, Provenance] | None
        Where the datasets come from, by their name.

    Returns
    -------
    Sheet

    Raises
    ------
    BadInput
        Where it is gone or has no mend of one press.
    """
    for doubt in findings(sheet, find, provenance):
        if doubt.id == finding:
            if doubt.mended is None:
                raise BadInput(f"'{doubt.text}' cannot be mended by a press.", "Open the stage that it names.")
            return doubt.mended(sheet)
    raise BadInput("This finding is not there any more.")


def _of_layer(layer: Layer, find: Find, about: Provenance) -> list[Finding]:
    try:
        pass_ = pass_of(layer, find)
    except CannotDraw as error:
        return [Finding(f"broken:{layer.id}", layer.id, "classify", f"'{layer.name}' cannot be drawn", str(error))]
    out: list[Finding] = []
    if isinstance(pass_, VectorPass):
        out += _of_classes(layer, pass_)
        out += findings_of_card(layer, pass_)
        out += _of_lettering(layer, pass_)
    if not about.source.strip():
        out.append(
            Finding(
                f"no-source:{layer.id}",
                layer.id,
                "gather",
                f"'{layer.name}' names no source",
                "Readers and colleagues cannot tell where its data come from. Write it in the library.",
            )
        )
    if about.rows_without_area:
        out.append(
            Finding(
                f"unmatched-rows:{layer.id}",
                layer.id,
                "gather",
                f"{counted(about.rows_without_area, 'row')} found no area",
                f"Their figures are missing from '{layer.name}'. Settle them in the join.",
            )
        )
    if about.areas_without_row:
        out.append(
            Finding(
                f"unmatched-areas:{layer.id}",
                layer.id,
                "gather",
                f"{counted(about.areas_without_row, 'area')} got no row",
                f"Drawn as no data on '{layer.name}'.",
            )
        )
    if isinstance(pass_, RasterPass) and pass_.source.info.first_band.n == 0:
        out.append(
            Finding(
                f"empty-raster:{layer.id}",
                layer.id,
                "gather",
                f"'{layer.name}' holds no data",
                "Every pixel read is nodata.",
            )
        )
    return out


def _of_lettering(layer: Layer, vector: VectorPass) -> list[Finding]:
    if layer.lettering is None:
        return []
    try:
        wanted = to_letter(vector.source, vector.ink, layer.lettering).texts
    except CannotDraw as error:
        return [
            Finding(f"broken-letters:{layer.id}", layer.id, "letter", f"'{layer.name}' cannot be lettered", str(error))
        ]
    there = set(vector.source.dataset.fids.tolist())
    gone = [hand.fid for hand in layer.lettering.by_hand if hand.fid not in there]
    out = [
        Finding(
            f"letters-by-hand:{layer.id}", layer.id, "letter",
            f"{counted(len(gone), 'label')} of '{layer.name}' changed by hand {'is' if len(gone) == 1 else 'are'} not there",
            f"Its data have no feature {gone[0]} any more, or its filter leaves it out. Put it back under By hand.",
        )
    ] if gone else []  # fmt: skip
    lacking = {text: gaps for text in wanted if (gaps := missing_letters(text))}
    if not lacking:
        return out
    text, gaps = next(iter(lacking.items()))
    return [
        *out,
        Finding(
            f"letters:{layer.id}", layer.id, "letter",
            f"{counted(len(lacking), 'label')} of '{layer.name}' cannot be set",
            f"No typeface has '{gaps[0]}' of '{text[:40]}', say; such labels are left out. Letter with another field.",
        )
    ]  # fmt: skip


def _of_classes(layer: Layer, vector: VectorPass) -> list[Finding]:
    classification, symbology = vector.ink.classification, layer.symbology
    if classification is None or not isinstance(symbology, Symbols):
        return []
    out: list[Finding] = []
    colour = symbology.encodings.colour
    if (
        isinstance(colour, ColourByClasses) and vector.source.dataset.kind == "areas" and colour.classing.normalise is None
        and meaning_of(vector.source.dataset, colour.classing.field).kind == "count"
    ):  # fmt: skip
        out.append(
            Finding(
                f"count-as-colour:{layer.id}", layer.id, "classify", f"'{colour.classing.field}' is a count drawn as the colour of areas",
                "A large area looks important only because it is large. Divide by its area, or by what is counted.",
                "Divide by area in km²", lambda sheet: _change(sheet, layer.id, _by_area),
            )
        )  # fmt: skip
    empty = [i + 1 for i, each in enumerate(classification.classes) if each.count == 0]
    if empty:
        out.append(
            Finding(
                f"empty-class:{layer.id}", layer.id, "classify", f"Class {_listed(empty)} of '{layer.name}' is empty",
                "The key promises a colour that is nowhere on the map.", "Merge it into its neighbour",
                lambda sheet: _change(sheet, layer.id, lambda doc: _without_empty(doc, classification.breaks, empty)),
            )
        )  # fmt: skip
    if len(classification.classes) > TOO_MANY_CLASSES:
        out.append(
            Finding(
                f"many-classes:{layer.id}",
                layer.id,
                "classify",
                f"{len(classification.classes)} classes on '{layer.name}'",
                "Readers tell about five to seven apart.",
            )
        )
    out += _of_colours(layer, vector, len(classification.classes))
    return out


def _of_colours(layer: Layer, vector: VectorPass, n: int) -> list[Finding]:
    """One finding a kind of reader, naming the closest pair of neighbouring classes."""
    steps = vector.ink.leading.steps if vector.ink.leading else ()
    colours = [step.colour for step in steps[:n] if step.colour]
    if len(set(colours)) < 2:
        return []
    return [
        Finding(
            f"close-colours-{pair.vision}:{layer.id}", layer.id, "draw",
            f"Classes {pair.position + 1} and {pair.position + 2} of '{layer.name}' look alike to {pair.readers}",
            f"Their colours differ by {pair.apart:.1f} (CIEDE2000); {CLOSE:g} or more is wanted.",
            "Take a ramp that all can read", lambda sheet: _change(sheet, layer.id, lambda doc: _safe_ramp(doc, n)),
        )
        for pair in alike(colours)
    ]  # fmt: skip


def _on_the_map(layer: Layer, seen: list[Seen]) -> list[Finding]:
    """What a blend or a faded layer does to the colours of its key: they are not found, or not told apart any more."""
    out = []
    others = {each.entry.id: each.on_map for each in seen if each.differs}
    if others:
        out.append(
            Finding(
                f"key-as-seen:{layer.id}", layer.id, "draw", f"'{layer.name}' has other colours on the map than in its key",
                f"It is blended or faded: {counted(len(others), 'entry', 'entries')} of the key will not be found on the map.",
                "Show in the key the colours as they come out", lambda sheet: keyed_as_seen(sheet, layer.id, others),
            )
        )  # fmt: skip
    classes = [each for each in seen if each.entry.limits is not None]
    known = {pair.vision for pair in alike([each.in_key for each in classes])}
    return out + [
        Finding(
            f"close-on-map-{pair.vision}:{layer.id}", layer.id, "draw",
            f"'{classes[pair.position].entry.text}' and '{classes[pair.position + 1].entry.text}' of '{layer.name}' look alike on the map to {pair.readers}",
            f"As they come out over what lies below, their colours differ by {pair.apart:.1f} (CIEDE2000); {CLOSE:g} or more is wanted. "
            "Let less of it through, or take another ramp.",
        )
        for pair in alike([each.on_map for each in classes])
        if pair.vision not in known
    ]  # fmt: skip


def _change(sheet: Sheet, layer_id: str, change: Callable[[dict[str, Any]], None]) -> Sheet:
    document = sheet.model_dump()
    for layer in document["layers"]:
        if layer["id"] == layer_id:
            change(layer["symbology"])
    return Sheet.model_validate(document)


def _classings(symbology: dict[str, Any]) -> list[dict[str, Any]]:
    """The classings of the channels, which stay one where they are one."""
    channels = (symbology["encodings"][name] for name in ("colour", "size"))
    return [channel["classing"] for channel in channels if channel and "classing" in channel]


def _by_area(symbology: dict[str, Any]) -> None:
    for classing in _classings(symbology):
        classing["normalise"] = {"by": "area"}
        # Breaks for counts mean nothing for densities, so those typed by hand give way to computed ones.
        if classing["method"] == "manual":
            classing.update(method="natural-breaks", classes=max(1, len(classing["breaks"])), breaks=[])


def _without_empty(symbology: dict[str, Any], breaks: list[float], empty: list[int]) -> None:
    # Dropping an empty class's upper limit lets the next class begin where it began; the last one's stays out as well.
    kept = [limit for i, limit in enumerate(breaks) if i + 1 not in empty] or breaks[-1:]
    for classing in _classings(symbology):
        classing.update(method="manual", breaks=kept, classes=len(kept))


def _safe_ramp(symbology: dict[str, Any], n: int) -> None:
    """The ramp whose closest neighbours are furthest apart for the reader who sees them worst."""
    colour = symbology["encodings"]["colour"]
    reverse = (colour.get("ramp") or {}).get("reverse", False)

    def worst(name: str) -> float:
        return least_apart(ramp_colours(RampChoice(name=name), n))

    best = max((name for name, ramp in RAMPS.items() if ramp.family == "sequential"), key=worst)
    colour["ramp"] = {"name": best, "reverse": reverse, "replaced": {}}


def _reading(without: Callable[[Reader], Reader]) -> Callable[[Sheet], Sheet]:
    return lambda sheet: sheet.model_copy(update={"reader": without(sheet.reader)})


def _with_credits(sheet: Sheet, known: Mapping[str, Provenance]) -> Sheet:
    credited = with_credits(sheet.furniture, (known[layer.dataset] for layer in sheet.layers if layer.dataset in known))
    named = credited if credited.credits else credited.model_copy(update={"credits": "Data: sources not named"})
    return sheet.model_copy(update={"furniture": named})


def _accepted(finding: Finding, reason: str | None) -> Finding:
    return Finding(
        finding.id, finding.layer, finding.stage, finding.text, finding.reason, finding.mend, finding.mended, reason
    )


def _listed(numbers: list[int]) -> str:
    return ", ".join(map(str, numbers))
