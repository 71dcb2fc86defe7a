"""A signed hand-over: whole it is taken, with one byte changed anywhere it is refused."""

from __future__ import annotations

import hashlib
import io
import json
import stat
import zipfile
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from passerelle.core.catalog.shelves import Catalog
from passerelle.core.house import HouseRules
from passerelle.core.turnup.handover import handover_of
from passerelle.demo.plant import demo_plant
from passerelle.demo.port_aubier import demo_links
from passerelle.exchange.handover import (
    ARCHIVE_LINE,
    Head,
    ReceiptError,
    files_of,
    handover_pdf,
    in_groups,
    receipt_text,
    signed_package,
    verified,
)
from passerelle.exchange.package_in import PackageError, read_package
from passerelle.exchange.plan_file import read_plan, write_plan
from passerelle.exchange.signing import SigningError, SigningKey, fingerprint, is_signed
from tests.core.plain import CATALOG
from tests.depth import examples

HEAD = Head("project", "", "Port-Aubier", 1, "crew 2", "2026-11-26")
LINKS = demo_links()[:2]


@pytest.fixture(scope="module")
def key(tmp_path_factory: pytest.TempPathFactory) -> SigningKey:
    return SigningKey.beside(tmp_path_factory.mktemp("key") / "x.sqlite")


@pytest.fixture(scope="module")
def made(key: SigningKey) -> tuple[bytes, str]:
    house = HouseRules()
    told = [handover_of(link, [], CATALOG, house) for link in LINKS]
    files = files_of(write_plan("Port-Aubier", house, LINKS, plant=demo_plant()), told, [], {})
    return signed_package(files, HEAD, lambda own: handover_pdf(HEAD, told, [], own), key)


def rebuilt(content: bytes, change: dict[str, bytes | None]) -> bytes:
    """The package with some files changed, added or taken out."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(out, "w") as new:
        for entry in old.infolist():
            body = change.get(entry.filename, old.read(entry))
            if body is not None:
                new.writestr(entry.filename, body)
        for name in set(change) - set(old.namelist()):
            if (body := change[name]) is not None:
                new.writestr(name, body)
    return out.getvalue()


def test_it_is_proven_by_the_key_its_fingerprint_or_the_receipt(made: tuple[bytes, str], key: SigningKey) -> None:
    content, _ = made
    plain = verified(content)
    assert (plain.whole, plain.proven, plain.signature) == (True, False, "by a key that nobody vouched for")
    assert verified(content, key=key.public).proven
    assert verified(content, key=in_groups(fingerprint(key.public)).upper()).proven
    archive = hashlib.sha256(content).hexdigest()
    receipt = receipt_text(HEAD, archive, key.public)
    for said in (receipt, archive, in_groups(archive).upper()):
        assert verified(content, receipt=said).proven
    assert not verified(content, key="00" * 32).whole
    assert not verified(content, receipt="0" * 64).whole
    assert (plain.signer, plain.revision, plain.archive_sha256) == ("crew 2", 1, archive)


@pytest.mark.parametrize("receipt", ["none", "0" * 63, "0" * 65, "g" * 64, f"{ARCHIVE_LINE} {'0' * 64}\n" * 2])
def test_a_receipt_without_one_sum_is_refused(made: tuple[bytes, str], receipt: str) -> None:
    with pytest.raises(ReceiptError, match="SHA-256"):
        verified(made[0], receipt=receipt)


def test_the_digest_of_older_sheets_proves_no_signer(made: tuple[bytes, str], tmp_path: Path) -> None:
    """Another sheet and another signer's key: the files are the same, and nothing of it is proven."""
    content, digest = made
    stranger = SigningKey.beside(tmp_path / "z.sqlite")
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        said = json.loads(archive.read("signature.json"))
    del said["signature"]
    sheet = b"%PDF-another sheet"
    said |= {"sheet": hashlib.sha256(sheet).hexdigest(), "signer": "a stranger", "public_key": stranger.public}
    message = json.dumps(said, sort_keys=True, ensure_ascii=False, indent=1).encode()
    signature = json.dumps({**said, "signature": stranger.sign(message)}).encode()
    forged = rebuilt(content, {"handover.pdf": sheet, "signature.json": signature})
    found = verified(forged, digest=digest)
    assert (found.whole, found.proven, found.digest) == (True, False, "as given")
    assert found.words.startswith("Files unchanged; sheet and signer not proven.")
    assert not verified(forged, receipt=hashlib.sha256(content).hexdigest()).whole
    assert verified(content, digest="0" * 64).digest == "other than given"


def test_what_was_signed_before_is_proven_for_ever() -> None:
    folder = Path(__file__).parent / "handovers"
    content, said = (folder / "v1.zip").read_bytes(), json.loads((folder / "v1.json").read_text())
    assert verified(content, key=said["key"]).proven
    old = verified(content, digest=said["printed_digest"])
    assert (old.whole, old.proven, old.digest) == (True, False, "as given")


def test_the_sheet_is_given_the_fingerprint(key: SigningKey) -> None:
    printed: list[str] = []

    def sheet(own: str) -> bytes:
        printed.append(own)
        return b"%PDF-"

    signed_package({}, HEAD, sheet, key)
    assert printed == [fingerprint(key.public)]


def slipped(content: bytes, where: str) -> bytes:
    """The package with something in it that no entry owns."""
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        first, second = sorted(entry.header_offset for entry in archive.infolist())[:2]
        directory = archive.start_dir
    out = io.BytesIO(content)
    match where:
        case "before":
            return b"MZ something" + content
        case "after":
            return content + b"something"
        case "comment":
            with zipfile.ZipFile(out, "a") as archive:
                archive.comment = b"something"
            return out.getvalue()
        case "twice":
            with zipfile.ZipFile(out, "a") as archive, pytest.warns(UserWarning, match="Duplicate"):
                archive.writestr("handover.pdf", b"%PDF-another")
            return out.getvalue()
        case "in front":
            return _zipped({"handover.pdf": b"%PDF-another"}) + content
        case "between":
            return content[:second] + b"xxxx" + content[second:]
        case "unlisted":
            return content[:directory] + _zipped({"a": b"b"})[:32] + content[directory:]
        case _:
            raise AssertionError(first)


@pytest.mark.parametrize("where", ["before", "after", "comment", "twice", "in front", "between", "unlisted"])
def test_an_archive_that_holds_more_than_its_entries_is_refused(
    made: tuple[bytes, str], key: SigningKey, where: str
) -> None:
    with pytest.raises(PackageError):
        verified(slipped(made[0], where), key=key.public)


def test_a_field_twice_in_the_signature_is_refused(made: tuple[bytes, str], key: SigningKey) -> None:
    with zipfile.ZipFile(io.BytesIO(made[0])) as archive:
        signature = archive.read("signature.json")
    doubled = signature.replace(b"{", b'{"signer": "a stranger", ', 1)
    found = verified(rebuilt(made[0], {"signature.json": doubled}), key=key.public)
    assert (found.whole, found.proven) == (False, False)


def test_sums_alone_only_prove_the_transport(made: tuple[bytes, str]) -> None:
    bare = rebuilt(made[0], {"signature.json": None, "handover.pdf": None})
    found = verified(bare)
    assert (found.whole, found.proven, found.signature) == (True, False, "none")
    assert "only proves the transport" in found.words
    assert not verified(bare, digest=made[1]).proven


def names(content: bytes) -> list[str]:
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        return archive.namelist()


def test_one_changed_byte_in_any_file_is_found(made: tuple[bytes, str]) -> None:
    content, _ = made
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        bodies = {name: archive.read(name) for name in archive.namelist()}
    assert {"plan.json", "manifest.json", "handover.pdf", "signature.json", "records/log.csv"} <= set(bodies)
    for name, body in bodies.items():
        middle = len(body) // 2
        changed = body[:middle] + bytes([body[middle] ^ 1]) + body[middle + 1 :]
        try:
            assert not verified(rebuilt(content, {name: changed})).whole, name
        except PackageError:
            assert name == "manifest.json"
        if name not in ("manifest.json",):
            assert not verified(rebuilt(content, {name: None})).whole or name == "signature.json", name
    assert not verified(rebuilt(content, {"signature.json": None})).whole  # a sheet that nothing vouches for
    assert not verified(rebuilt(content, {"more.txt": b"slipped in"})).whole


@settings(max_examples=examples(60), suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(at=st.floats(0, 0.999), bit=st.integers(0, 7))
def test_no_bit_of_the_archive_turns_it_into_another_one_that_passes(
    made: tuple[bytes, str], key: SigningKey, at: float, bit: int
) -> None:
    content = bytearray(made[0])
    content[int(at * len(content))] ^= 1 << bit
    try:
        found = verified(bytes(content), key=key.public)
    except PackageError:
        return
    if found.proven:  # a bit of the container that no file's content rests on, such as its time stamp
        with zipfile.ZipFile(io.BytesIO(made[0])) as old, zipfile.ZipFile(io.BytesIO(content)) as new:
            assert {n: new.read(n) for n in new.namelist()} == {n: old.read(n) for n in old.namelist()}


def test_who_signs_anew_with_another_key_is_seen(made: tuple[bytes, str], key: SigningKey, tmp_path: Path) -> None:
    other = SigningKey.beside(tmp_path / "y.sqlite")
    with zipfile.ZipFile(io.BytesIO(made[0])) as archive:
        said = json.loads(archive.read("signature.json"))
    del said["signature"]
    said |= {"signer": "somebody else", "public_key": other.public}
    message = json.dumps(said, sort_keys=True, ensure_ascii=False, indent=1).encode()
    forged = rebuilt(made[0], {"signature.json": json.dumps({**said, "signature": other.sign(message)}).encode()})
    assert verified(forged).signature == "by a key that nobody vouched for"
    assert not verified(forged).proven
    assert not verified(forged, key=key.public).whole


def test_it_is_read_in_again_as_a_plan(made: tuple[bytes, str], catalog: Catalog) -> None:
    text, _ = read_package(made[0])
    assert [link.name for link in read_plan(text, catalog).links] == [link.name for link in LINKS]


def test_a_package_that_is_none_is_refused_in_words() -> None:
    for content, words in (
        (b"PK nothing", "unpacked"),
        (_zipped({"plan.json": b"{}"}), "no manifest"),
        (_zipped({"manifest.json": b"{"}), "cannot be read"),
        (_zipped({"manifest.json": b'{"format": "other", "files": {}}'}), "no hand-over"),
    ):
        with pytest.raises(PackageError, match=words):
            verified(content)


def _zipped(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, body in files.items():
            archive.writestr(name, body)
    return out.getvalue()


def test_the_key_is_made_once_for_one_reader(tmp_path: Path) -> None:
    key = SigningKey.beside(tmp_path / "x.sqlite")
    assert stat.S_IMODE(key.path.stat().st_mode) == 0o600
    assert SigningKey.beside(tmp_path / "x.sqlite").public == key.public
    assert is_signed(b"words", key.sign(b"words"), key.public)
    assert not is_signed(b"other", key.sign(b"words"), key.public)
    assert not is_signed(b"words", "zz", key.public)
    key.path.chmod(0o640)
    with pytest.raises(SigningError, match="chmod 600"):
        SigningKey(key.path)
