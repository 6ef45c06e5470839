"""A client of services of features (OGC API - Features - Part 1: Core, 17-069r4; conditions by Part 3: Filtering, 19-079r2).

What is fetched, and from where that is allowed, is the caller's: `get` gives the JSON at an address.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any
from urllib.parse import parse_qsl, urlencode, urljoin, urlsplit, urlunsplit

from greylatch.errors import BadFile, BadInput, printable

__all__ = ["MOST_FEATURES", "Collection", "Get", "Page", "collections", "is_service", "pages", "with_query"]

Get = Callable[[str], Any]
MOST_FEATURES, AT_ONCE, MOST_PAGES, SHOWN = 1_000_000, 1_000, 10_000, 500
"""Features that are taken of a collection; that are asked for at a time; pages of them; collections that are shown."""
FILTERS = ("cql2-text", "filter")
"""How the classes of conformance end that a service must state to be asked by a condition."""


@dataclass(frozen=True)
class Collection:
    """What a service offers under one name: `items` is where its features are, `bounds` in degrees, `filtered` whether it takes
    conditions in CQL2."""

    id: str
    title: str
    items: str
    description: str = ""
    bounds: tuple[float, float, float, float] | None = None
    credit: str = ""
    licence: str = ""
    filtered: bool = False


@dataclass(frozen=True)
class Page:
    """Some features, and how many there are in all, where the service says that."""

    features: list[dict[str, Any]] = field(repr=False)
    of: int | None


def is_service(document: Any) -> bool:
    """Whether a JSON document is the first page of a service, a list of its collections, one of them, or a page of its features that more
    follow.

    Examples
    --------
    >>> is_service({"links": [{"rel": "data", "href": "https://isles.example/collections"}]})
    True
    >>> is_service({"type": "FeatureCollection", "features": []})
    False
    """
    return isinstance(document, dict) and (
        _is_page(document)
        or isinstance(document.get("collections"), list)
        or bool(_links(document, "data") or (_links(document, "items") and "id" in document))
    )


def collections(get: Get, address: str, document: Any) -> list[Collection]:
    """What a service offers.

    Parameters
    ----------
    get : Get
        Gives the JSON at an address.
    address : str
        Of the document.
    document : Any
        The service's first page, its list of collections, or one of them.

    Returns
    -------
    list[Collection]

    Raises
    ------
    BadFile
        For what is no service, and one without a collection of features.
    """
    if not is_service(document):
        raise BadFile("This is no service of features.")
    if _is_page(document):
        # Somebody gave the address of the features themselves: the first page is not all of them.
        name = urlsplit(address).path.removesuffix("/items").rstrip("/").rsplit("/", 1)[-1] or "features"
        return [Collection(printable(name)[:200], printable(name)[:200], _without_query(address, "offset", "limit"))]
    filtered = _filtered(get, address, document)
    offered: Any
    if _links(document, "items") and "id" in document:
        offered = [document]
    elif isinstance(document.get("collections"), list):
        offered = document["collections"]
    else:
        address = urljoin(address, _links(document, "data")[0])
        listed = get(address)
        offered = listed.get("collections") if isinstance(listed, dict) else None
        if not isinstance(offered, list):
            raise BadFile("The service does not list its collections.")
    out = [collection for each in offered[:SHOWN] if (collection := _collection(each, address, filtered)) is not None]
    if not out:
        raise BadFile("The service has no collection of features.")
    return out


def pages(
    get: Get, collection: Collection, bounds: tuple[float, float, float, float] | None = None, where: str = "",
    at_once: int = AT_ONCE,
) -> Iterator[Page]:  # fmt: skip
    """The features of a collection, page by page, as its links lead on.

    Parameters
    ----------
    get : Get
        Gives the JSON at an address.
    collection : Collection
        Which.
    bounds : tuple[float, float, float, float] | None
        West, south, east, north in degrees: only what lies there.
    where : str
        A condition in CQL2, which the service applies.
    at_once : int
        Features to ask for at a time; a service may send fewer.

    Returns
    -------
    Iterator[Page]

    Raises
    ------
    BadFile
        For what is no page of features, for more features than are taken, and for links that lead in a circle.
    """
    query: dict[str, str] = {"limit": str(at_once)}
    if bounds is not None:
        query["bbox"] = ",".join(f"{value:.9g}" for value in bounds)
    if where.strip():
        if not collection.filtered:
            raise BadFile("This service takes no conditions.", "Take all, and keep the rows that you want.")
        query |= {"filter": where, "filter-lang": "cql2-text"}
    address: str | None = with_query(collection.items, query)
    seen: set[str] = set()
    taken = 0
    while address is not None:
        if address in seen or len(seen) >= MOST_PAGES:
            raise BadFile("The pages of this service lead in a circle.")
        seen.add(address)
        document = get(address)
        features = document.get("features") if isinstance(document, dict) else None
        if not isinstance(features, list):
            raise BadFile(f"What the service sent is no page of features: {_short(document)}")
        taken += len(features)
        if taken > MOST_FEATURES:
            raise BadFile(f"The service has more than {MOST_FEATURES:,} features.", "Ask for those of a smaller place.")
        of = document.get("numberMatched")
        yield Page(features, of if isinstance(of, int) else None)
        following = _links(document, "next")
        address = urljoin(address, following[0]) if following and features else None


def with_query(address: str, more: dict[str, str]) -> str:
    """An address with more in its query, in place of what it has of the same names.

    Parameters
    ----------
    address : str
        As it is.
    more : dict[str, str]
        Names and values.

    Returns
    -------
    str

    Examples
    --------
    >>> with_query("https://isles.example/items?f=json&limit=10", {"limit": "500"})
    'https://isles.example/items?f=json&limit=500'
    """
    scheme, host, path, query, _ = urlsplit(address)
    kept = [(name, value) for name, value in parse_qsl(query, keep_blank_values=True) if name not in more]
    return urlunsplit((scheme, host, path, urlencode([*kept, *more.items()]), ""))


def _without_query(address: str, *names: str) -> str:
    """An address without some names of its query."""
    scheme, host, path, query, _ = urlsplit(address)
    kept = [pair for pair in parse_qsl(query, keep_blank_values=True) if pair[0] not in names]
    return urlunsplit((scheme, host, path, urlencode(kept), ""))


def _is_page(document: dict[str, Any]) -> bool:
    return document.get("type") == "FeatureCollection" and bool(_links(document, "next"))


def _collection(document: Any, address: str, filtered: bool) -> Collection | None:
    if not isinstance(document, dict) or document.get("itemType", "feature") != "feature":
        return None
    items = _links(document, "items")
    name = str(document.get("id") or "")
    if not items or not name:
        return None
    licences = [link for link in document.get("links", []) if isinstance(link, dict) and link.get("rel") == "license"]
    licence = next(
        (str(link.get("title") or link.get("href") or "") for link in licences), str(document.get("license") or "")
    )
    return Collection(
        id=printable(name)[:200], title=printable(str(document.get("title") or name))[:200], items=urljoin(address, items[0]),
        description=printable(str(document.get("description") or ""))[:1_000], bounds=_bounds(document),
        credit=printable(str(document.get("attribution") or ""))[:500], licence=printable(licence)[:200], filtered=filtered,
    )  # fmt: skip


def _bounds(document: dict[str, Any]) -> tuple[float, float, float, float] | None:
    """The first box of the spatial extent, which is that of all (17-069r4, 7.14.2); in two dimensions."""
    try:
        box = [float(value) for value in document["extent"]["spatial"]["bbox"][0]]
    except (KeyError, IndexError, TypeError, ValueError):
        return None
    if len(box) == 6:
        box = [box[0], box[1], box[3], box[4]]
    if len(box) != 4 or not all(abs(value) <= 360 for value in box) or box[1] > box[3]:
        return None
    return box[0], box[1], box[2], box[3]


def _filtered(get: Get, address: str, document: Any) -> bool:
    conformance = _links(document, "conformance") or _links(
        document, "http://www.opengis.net/def/rel/ogc/1.0/conformance"
    )
    # A collection does not say where its service states that; the standard does (17-069r4, 7.1).
    place = urljoin(address, conformance[0]) if conformance else f"{address.split('/collections')[0]}/conformance"
    try:
        stated = get(place)
    except BadInput:
        return False
    classes = [str(each) for each in stated.get("conformsTo", [])] if isinstance(stated, dict) else []
    return all(any(name.endswith(f"/{ending}") for name in classes) for ending in FILTERS)


def _links(document: dict[str, Any], rel: str) -> list[str]:
    """Where links of a relation lead, those to JSON first."""
    listed = document.get("links")
    if not isinstance(listed, list):
        return []
    links = [
        link
        for link in listed
        if isinstance(link, dict) and link.get("rel") == rel and isinstance(link.get("href"), str)
    ]
    links.sort(key=lambda link: "json" not in str(link.get("type") or "json"))
    return [str(link["href"]) for link in links if "json" in str(link.get("type") or "json")] or [
        str(link["href"]) for link in links
    ]


def _short(document: Any) -> str:
    cause = (
        document.get("description") or document.get("detail") or document.get("title")
        if isinstance(document, dict)
        else None
    )
    return printable(str(cause or document))[:200]
