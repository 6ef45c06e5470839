"""Ways of spoiling a file: bits, bytes, cuts, splices, numbers, header fields, nesting, encodings, what is inside a zip."""

import contextlib
import io
import random
import re
import struct
import zipfile
from collections.abc import Callable, Sequence

Spoiled = tuple[str, bytes]
ODD_NUMBERS = [
    b"0",
    b"-1",
    b"1e999",
    b"-1e308",
    b"NaN",
    b"99999999999999999999999",
    b"180.0000001",
    b"-0.0",
    b"1e-320",
    b"2147483648",
    b"7" * 400,
]
ODD_WORDS = [
    b"null",
    b"{}",
    b"[]",
    b'""',
    b"true",
    b'"\\u0000"',
    b'"\\ud800"',
    b"\xff\xfe",
    b"\xed\xa0\x80",
    b"e\xcc\x81",
    b"\xe2\x80\xae",
    b'"\n"',
    b"\0",
    b"'",
]
ODD_INTEGERS = [0, 1, 2, 0x7F, 0xFF, 0x7FFF, 0xFFFF, 0x7FFFFFFF, 0xFFFFFFFF]


def spoiled(rng: random.Random, seeds: Sequence[Spoiled]) -> Spoiled:
    """One of the seeds, spoiled once to four times. Rarely, under the name of another kind of file."""
    name, data = rng.choice(seeds)
    if data[:4] == b"PK\x03\x04" and rng.random() < 0.6:
        data = _inside_zip(rng, data, seeds)
    for _ in range(rng.choice((0, 1, 1, 2, 4)) if data[:4] == b"PK\x03\x04" else rng.choice((1, 1, 2, 4))):
        data = rng.choice(WAYS)(rng, data, seeds)
    if rng.random() < 0.03:
        name = rng.choice(seeds)[0]
    return name, data[: 4 * 1024 * 1024]


def _place(rng: random.Random, data: bytes) -> int:
    """Anywhere, and more often in the first bytes, where headers are, and in the last, where zips keep theirs."""
    n = max(1, len(data))
    return min(
        n - 1, rng.choice((rng.randrange(n), rng.randrange(min(n, 128)), max(0, n - 1 - rng.randrange(min(n, 128)))))
    )


def _bits(rng: random.Random, data: bytes, seeds: Sequence[Spoiled]) -> bytes:
    out = bytearray(data or b"\0")
    for _ in range(rng.choice((1, 1, 3, 20))):
        out[_place(rng, data)] ^= 1 << rng.randrange(8)
    return bytes(out)


def _bytes(rng: random.Random, data: bytes, seeds: Sequence[Spoiled]) -> bytes:
    out = bytearray(data or b"\0")
    at = _place(rng, data)
    out[at : at + rng.choice((1, 2, 8))] = rng.randbytes(rng.choice((1, 2, 8)))
    return bytes(out)


def _cut(rng: random.Random, data: bytes, seeds: Sequence[Spoiled]) -> bytes:
    at = _place(rng, data)
    return rng.choice((data[:at], data[at:], data[:at] + data[at + rng.randrange(1, 64) :]))


def _splice(rng: random.Random, data: bytes, seeds: Sequence[Spoiled]) -> bytes:
    other = rng.choice(seeds)[1]
    at, start = _place(rng, data), _place(rng, other)
    piece = other[start : start + rng.choice((4, 64, 2000))]
    return data[:at] + piece + data[at + (len(piece) if rng.random() < 0.5 else 0) :]


def _again(rng: random.Random, data: bytes, seeds: Sequence[Spoiled]) -> bytes:
    at = _place(rng, data)
    piece = data[at : at + rng.choice((1, 10, 100))]
    return data[:at] + piece * rng.choice((2, 10, 300)) + data[at:]


def _number(rng: random.Random, data: bytes, seeds: Sequence[Spoiled]) -> bytes:
    matches = list(re.finditer(rb"-?\d+(\.\d+)?", data[:200_000]))
    if not matches:
        return _integer(rng, data, seeds)
    match = rng.choice(matches)
    return data[: match.start()] + rng.choice(ODD_NUMBERS) + data[match.end() :]


def _integer(rng: random.Random, data: bytes, seeds: Sequence[Spoiled]) -> bytes:
    out = bytearray(data.ljust(8, b"\0"))
    width, letter = rng.choice(((1, "B"), (2, "H"), (4, "I")))
    at = min(_place(rng, data), len(out) - width)
    value = rng.choice(ODD_INTEGERS) & (2 ** (8 * width) - 1)
    out[at : at + width] = struct.pack(rng.choice("<>") + letter, value)
    return bytes(out)


def _word(rng: random.Random, data: bytes, seeds: Sequence[Spoiled]) -> bytes:
    matches = list(re.finditer(rb'"[^"]{0,40}"|[A-Za-z_]{3,}', data[:200_000]))
    at, end = rng.choice([match.span() for match in matches]) if matches else (_place(rng, data),) * 2
    return data[:at] + rng.choice(ODD_WORDS) + data[end:]


def _nesting(rng: random.Random, data: bytes, seeds: Sequence[Spoiled]) -> bytes:
    at, n = _place(rng, data), rng.choice((10, 1000, 100_000))
    opening, closing = rng.choice(((b"[", b"]"), (b'{"a":', b"}"), (b'"', b""), (b"(", b")")))
    return data[:at] + opening * n + rng.choice((b"", closing * n)) + data[at:]


def _encoding(rng: random.Random, data: bytes, seeds: Sequence[Spoiled]) -> bytes:
    if len(data) > 200_000:
        return data
    text = data.decode("utf-8", "replace")
    return text.encode(
        rng.choice(("utf-16", "utf-16-le", "utf-32", "cp1252", "mac_roman", "utf-7", "cp037", "shift_jis")), "replace"
    )


def _lines(rng: random.Random, data: bytes, seeds: Sequence[Spoiled]) -> bytes:
    lines = data.splitlines(keepends=True)
    if len(lines) < 2:
        return _cut(rng, data, seeds)
    rng.shuffle(lines) if rng.random() < 0.3 else lines.insert(
        rng.randrange(len(lines)), rng.choice(lines) * rng.choice((1, 5))
    )
    return b"".join(lines)


def _columns(rng: random.Random, data: bytes, seeds: Sequence[Spoiled]) -> bytes:
    first, _, rest = data.partition(b"\n")
    return first + rng.choice((b",", b";")) * rng.choice((1, 100, 30_000)) + b"\n" + rest


WAYS: list[Callable[[random.Random, bytes, Sequence[Spoiled]], bytes]] = [
    _bits, _bytes, _cut, _splice, _again, _number, _number, _integer, _integer, _word, _word, _nesting, _encoding, _lines, _columns,
]  # fmt: skip


def _inside_zip(rng: random.Random, data: bytes, seeds: Sequence[Spoiled]) -> bytes:
    """The zip with what is in it spoiled, left out, named oddly or put in twice."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        members = [(member.filename, archive.read(member)) for member in archive.infolist()]
    at = rng.randrange(len(members))
    name, content = members[at]
    what = rng.random()
    if what < 0.7:
        members[at] = (name, rng.choice(WAYS)(rng, content, seeds))
    elif what < 0.8:
        members.pop(at)
    elif what < 0.9:
        members[at] = (
            rng.choice(("../a.shp", "/a.shp", "a.SHP", "a\\b.shp", "é.shp", "a.shp ", ".shp", "a" * 300 + ".shp")),
            content,
        )
    else:
        members.append(rng.choice((members[at], (f"b{name}", content))))
    out = io.BytesIO()
    with zipfile.ZipFile(
        out, "w", rng.choice((zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED, zipfile.ZIP_LZMA, zipfile.ZIP_BZIP2))
    ) as archive:
        for name, content in members:
            with contextlib.suppress(UserWarning):
                archive.writestr(name, content)
    return out.getvalue()
