"""Icons in the library: sent, cleaned, listed, removed; nobody sees those of others."""

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

SVG = b'<svg xmlns="http://www.w3.org/2000/svg" width="8" height="8"><script>x</script><circle cx="4" cy="4" r="3"/></svg>'


def sent(client: Client, data: bytes, name: str = "dot.svg", credit: str = "") -> tuple[int, dict[str, object]]:
    answer = client.post("/api/icons", {"file": SimpleUploadedFile(name, data), "credit": credit})
    return answer.status_code, answer.json()


def test_an_icon_is_kept_cleaned_with_its_credit(owner: Client, stranger: Client) -> None:
    status, kept = sent(owner, SVG, credit="Ulla Brand")
    assert status == 200
    icon = kept["icon"]
    assert isinstance(icon, dict)
    assert (icon["name"], icon["credit"], "script" in icon["content"]) == ("dot", "Ulla Brand", False)
    assert [one["id"] for one in owner.get("/api/icons").json()] == [kept["id"]]
    assert stranger.get("/api/icons").json() == []
    assert stranger.delete(f"/api/icons/{kept['id']}").status_code == 404
    assert owner.delete(f"/api/icons/{kept['id']}").status_code == 204
    assert owner.get("/api/icons").json() == []


def test_what_is_no_icon_is_told(owner: Client) -> None:
    assert "readable SVG" in str(sent(owner, b"MZ\x90\x00", "virus.svg")[1]["detail"])
    assert "at most 200 kB" in str(sent(owner, b"x" * 200_001)[1]["detail"])
    assert owner.get("/api/icons").json() == []
