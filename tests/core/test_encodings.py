"""Encodings compared where they differ. What each byte stands for is in the Unicode Consortium's mapping tables, as Python has them."""

from pathlib import Path

from greylatch.tables.encodings import COMMON, compared


def test_the_right_one_is_among_them_and_reads_right(tmp_path: Path) -> None:
    file = tmp_path / "a.csv"
    for encoding, name in (("cp1252", "Höhe “Ärger”"), ("cp1251", "Москва"), ("mac_roman", "Höhe"), ("utf-8", "Łódź")):
        file.write_bytes(f"name,v\nArd,1\n{name},2\n".encode(encoding))
        found = compared(file)
        (right,) = [each for each in found if encoding in each.encodings]
        assert right.lines == [f"{name},2"] and right.fits
        assert sum(len(each.encodings) for each in found) == len(COMMON)
        assert [each.fits for each in found] == sorted((each.fits for each in found), reverse=True)


def test_plain_letters_make_no_difference(tmp_path: Path) -> None:
    file = tmp_path / "a.csv"
    file.write_bytes(b"name,v\nArd,1\n")
    assert compared(file) == []
    file.write_bytes("name\nHöhe\n".encode("utf-16"))
    assert compared(file) == [], "utf-16 is known by its mark"
