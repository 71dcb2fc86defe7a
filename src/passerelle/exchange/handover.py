"""A hand-over as a package: a ZIP with a manifest of SHA-256 sums, signed; and what can be said of one that came.

``manifest.json`` names every file but the sheet and the signature, with its sum. ``signature.json`` holds the
manifest's sum, the sheet's sum, who signed and when, and the signature of all of that. No sheet can hold its own
sum: it prints the fingerprint of the signer's key. The sum of the whole archive stands on the receipt, outside it.
Whoever has the key or the receipt proves the package; its own sums and the key in it prove nothing.
"""

from __future__ import annotations

import hashlib
import io
import json
import re
import zipfile
import zlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from passerelle.core.sources import Frozen
from passerelle.core.turnup.handover import LinkHandover
from passerelle.core.turnup.logbook import LogLine
from passerelle.exchange.package_in import PackageError, check_entries, check_layout
from passerelle.exchange.sheet import Sheet, Stamp
from passerelle.exchange.signing import SigningKey, fingerprint, is_signed
from passerelle.exchange.table_out import neutral, write_csv

FORMAT, VERSION = "passerelle-handover", 2
ARCHIVE_LINE = "SHA-256 of the archive:"
_SUM = re.compile(r"[0-9a-f]{64}")
MANIFEST, SIGNATURE, SHEET = "manifest.json", "signature.json", "handover.pdf"
Files = Mapping[str, bytes]


class ReceiptError(ValueError):
    """A receipt that holds no sum of an archive; the message says what it must hold."""


@dataclass(frozen=True)
class Head:
    """What a hand-over is of, its revision, and who signs it when."""

    scope: str
    name: str
    project: str
    revision: int
    signer: str
    on: str
    address: str = ""


def signed_package(files: Files, head: Head, sheet: Callable[[str], bytes], key: SigningKey) -> tuple[bytes, str]:
    """The package and the sum of its manifest.

    Args:
        files: by their names in the package.
        head: what it is of.
        sheet: makes the printed sheet from the fingerprint of the signer's key.
        key: of the installation.
    """
    manifest = _json(
        {
            "format": FORMAT,
            "version": VERSION,
            "of": head.scope,
            "name": head.name,
            "project": head.project,
            "revision": head.revision,
            "files": {name: _sum(body) for name, body in sorted(files.items())},
        }
    )
    digest = _sum(manifest)
    printed = sheet(fingerprint(key.public))
    said = {
        "digest": digest,
        "sheet": _sum(printed),
        "signer": head.signer,
        "on": head.on,
        "algorithm": "Ed25519",
        "public_key": key.public,
    }
    signature = _json({**said, "signature": key.sign(_json(said))})
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, body in (*sorted(files.items()), (MANIFEST, manifest), (SHEET, printed), (SIGNATURE, signature)):
            archive.writestr(name, body)
    return out.getvalue(), digest


def receipt_text(head: Head, archive_sum: str, public: str) -> str:
    """The receipt of a package, kept outside it: what it is, the sum of its archive, and whose key signed."""
    return "\n".join(
        (
            f"Receipt for the handover package: {head.name or head.project}, revision {head.revision}",
            f"Signed by {head.signer} on {head.on}",
            f"{ARCHIVE_LINE} {archive_sum}",
            f"Fingerprint of the signer's key: {in_groups(fingerprint(public))}",
            "Keep this apart from the package. Check with: passerelle handover verify PACKAGE --receipt THIS-FILE",
            "",
        )
    )


def receipt_sum(text: str) -> str:
    """The sum of the archive that a receipt, or whoever typed it off, says; raises ReceiptError."""
    lines = [line.partition(ARCHIVE_LINE)[2] for line in text.splitlines() if ARCHIVE_LINE in line]
    said = "".join((lines[0] if len(lines) == 1 else text).split()).lower()
    if len(lines) > 1 or not _SUM.fullmatch(said):
        raise ReceiptError(
            "the receipt must hold the SHA-256 of the archive once, as it was given out: 64 digits 0 to 9, a to f"
        )
    return said


def in_groups(digits: str) -> str:
    """Hexadecimal digits as they are printed, eight by eight.

    >>> in_groups("00112233445566778899")
    '00112233 44556677 8899'
    """
    return " ".join(digits[n : n + 8] for n in range(0, len(digits), 8))


def _sum(body: bytes) -> str:
    return hashlib.sha256(body).hexdigest()


def _json(value: Any) -> bytes:
    return json.dumps(value, sort_keys=True, ensure_ascii=False, indent=1).encode("utf-8")


Vouched = Literal["valid", "by a key that nobody vouched for", "wrong", "none"]
Compared = Literal["as given", "other than given", "not given"]


class Verified(Frozen):
    """What can be said of a package: ``whole`` its sums hold; ``signature``, ``receipt`` and ``digest`` what was
    checked.

    ``proven`` only where a signature by a key that was given, or the receipt, was checked. The ``digest`` that
    older sheets print is of the files alone: it proves neither the sheet nor the signer.
    """

    whole: bool
    signature: Vouched
    receipt: Compared
    digest: Compared
    proven: bool
    words: str
    archive_sha256: str = ""
    digest_sha256: str = ""
    public_key: str = ""
    fingerprint: str = ""
    signer: str = ""
    on: str = ""
    of: str = ""
    name: str = ""
    revision: int | None = None
    problems: tuple[str, ...] = ()


def verified(content: bytes, *, key: str = "", receipt: str = "", digest: str = "") -> Verified:
    """Check a package.

    Args:
        content: the ZIP.
        key: the public key of who should have signed, or its fingerprint, in hexadecimal, blanks allowed; empty
            where nobody vouches for one.
        receipt: the receipt's text, or the sum of the archive on it; empty where there is none.
        digest: as older sheets print it; empty where there is none.

    Raises:
        PackageError: it cannot be unpacked, is too large, is no archive from its first byte to its last, or is no
            hand-over.
        ReceiptError: the receipt holds no sum.
    """
    files = _unpacked(content)
    if MANIFEST not in files:
        raise PackageError("there is no manifest.json in it: this is no hand-over")
    try:
        manifest = _single(files[MANIFEST])
        sums, form = dict(manifest["files"]), manifest["format"]
    except (ValueError, KeyError, TypeError, RecursionError) as error:
        raise PackageError("manifest.json cannot be read: it was changed or damaged") from error
    if form != FORMAT:
        raise PackageError(f"its manifest is of '{form}': this is no hand-over")
    problems = _wrong_sums(files, sums)
    own = _sum(files[MANIFEST])
    signed, said = _signature(files, own, "".join(key.split()).lower(), problems)
    kept = _compared(receipt_sum(receipt) if receipt.strip() else "", _sum(content))
    if kept == "other than given":
        problems.append("the archive is not the one on the receipt: this is another package, or it was changed")
    same = _compared("".join(digest.split()).lower(), own)
    if same == "other than given":
        problems.append("the digest is not the one that was given: this is another package, or it was changed")
    public = str(said.get("public_key", ""))
    return Verified(
        whole=not problems,
        signature=signed,
        receipt=kept,
        digest=same,
        proven=not problems and (signed == "valid" or kept == "as given"),
        words=_words(problems, signed, kept, same),
        archive_sha256=_sum(content),
        digest_sha256=own,
        public_key=public,
        fingerprint=fingerprint(public) if public else "",
        signer=str(said.get("signer", "")),
        on=str(said.get("on", "")),
        of=str(manifest.get("of", "")),
        name=str(manifest.get("name", "")),
        revision=manifest.get("revision") if isinstance(manifest.get("revision"), int) else None,
        problems=tuple(problems),
    )


def _compared(given: str, own: str) -> Compared:
    return "not given" if not given else "as given" if given == own else "other than given"


def _single(body: bytes) -> dict[str, Any]:
    """A JSON object, every field of it once; raises ValueError."""

    def once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
        found = dict(pairs)
        if len(found) < len(pairs):
            raise ValueError("a field stands in it twice")
        return found

    found = json.loads(body, object_pairs_hook=once)
    if not isinstance(found, dict):
        raise ValueError("it is no object")
    return found


def _unpacked(content: bytes) -> dict[str, bytes]:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            entries = archive.infolist()
            check_entries(entries)
            check_layout(content, entries)
            return {one.filename: archive.read(one) for one in entries}
    except PackageError:
        raise
    except (zipfile.BadZipFile, zlib.error, OSError, EOFError, RuntimeError, ValueError) as error:
        raise PackageError(f"the package cannot be unpacked: {error}") from error


def _wrong_sums(files: Files, sums: Mapping[str, Any]) -> list[str]:
    apart = {MANIFEST, SIGNATURE, SHEET}
    found = [f"{name} is missing" for name in sums if name not in files]
    added = [name for name in files if name not in sums and name not in apart]
    found += [f"{name} is not in the manifest: it was added" for name in added]
    found += [f"{name} was changed" for name, said in sums.items() if name in files and _sum(files[name]) != said]
    return found


def _signature(files: Files, own: str, key: str, problems: list[str]) -> tuple[Vouched, dict[str, Any]]:
    """What the signature is worth; what is wrong is added to the problems."""
    if SIGNATURE not in files:
        if SHEET in files:
            problems.append(f"{SHEET} is in it and no signature: nothing says that it belongs here")
        if key:
            problems.append("a key was given, and the package is not signed")
        return "none", {}
    try:
        said = _single(files[SIGNATURE])
        signature, public = str(said.pop("signature")), str(said["public_key"])
    except (ValueError, KeyError, TypeError, RecursionError):
        problems.append("signature.json cannot be read: it was changed or damaged")
        return "wrong", {}
    if not is_signed(_json(said), signature, public):
        problems.append("the signature does not fit: something was changed after it was signed")
        return "wrong", said
    if said.get("digest") != own:
        problems.append("the manifest is not the one that was signed")
    if SHEET not in files:
        problems.append(f"{SHEET} is missing")
    elif said.get("sheet") != _sum(files[SHEET]):
        problems.append(f"{SHEET} was changed")
    if not key:
        return "by a key that nobody vouched for", said
    if key not in (public.lower(), fingerprint(public)):
        problems.append("it was signed with another key than the one that was given")
        return "wrong", said
    return "valid", said


def _words(problems: Sequence[str], signed: str, kept: str, same: str) -> str:
    if problems:
        return f"Refused: {problems[0]}."
    if signed == "valid" and kept == "as given":
        return "Signed with the key that was given, and the archive is the one on the receipt."
    if signed == "valid":
        return "Signed with the key that was given, and nothing was changed since."
    if kept == "as given":
        return "The archive is the one on the receipt: nothing was changed since it was given out."
    if same == "as given":
        return (
            "Files unchanged; sheet and signer not proven. The printed digest is of the files alone: ask the "
            "signer for the key or its fingerprint, or take the receipt."
        )
    if signed == "none":
        return "The sums hold. That alone only proves the transport: anybody can make new sums."
    return (
        "Not proven. The sums hold and the signature fits the key in the package, but nobody vouched for that key: "
        "enter the fingerprint that the signer gave you, or take the receipt."
    )


def files_of(
    plan: str,
    links: Sequence[LinkHandover],
    log: Sequence[LogLine],
    attachments: Mapping[str, tuple[bytes, str]],
    sheets: Files | None = None,
) -> dict[str, bytes]:
    """The files of a hand-over: plan, records, tables, traces and pictures, sheets."""
    found: dict[str, bytes] = {"plan.json": plan.encode("utf-8")}
    told = [one.model_dump(mode="json") for one in links]
    found["records/links.json"] = _json(told)
    found["records/log.csv"] = _csv(
        ("day", "who", "place", "link", "what", "serial", "corrected by", "withdrawn"),
        [(e.day, e.who, e.place, e.link_name, e.words, e.serial, e.corrected_by, e.withdrawn) for e in log],
    ).encode("utf-8")
    found["tables/strands.csv"] = _csv(
        ("link", "lane", "ends", "positions"), [(one.name, *row) for one in links for row in one.strands]
    ).encode("utf-8")
    found["tables/readings.csv"] = _csv(
        ("link", "strand", "wavelength", "reading", "limit", "judgement", "informs only"),
        [(one.name, *row) for one in links for row in one.readings],
    ).encode("utf-8")
    found["tables/modules.csv"] = _csv(
        ("link", "end", "box and port", "module", "serial", "link state", "light", "day"),
        [(one.name, *row) for one in links for row in one.modules],
    ).encode("utf-8")
    for name, (body, kind) in attachments.items():
        ending = {"image/png": "png", "image/jpeg": "jpg"}.get(kind, "sor")
        found[f"attachments/{name}.{ending}"] = body
    return found | dict(sheets or {})


def _csv(head: Sequence[str], rows: Sequence[Sequence[str]]) -> str:
    return write_csv(head, [[neutral(cell) for cell in row] for row in rows])


def handover_pdf(head: Head, links: Sequence[LinkHandover], log: Sequence[LogLine], key_fingerprint: str) -> bytes:
    """The printed sheet of a hand-over, with the fingerprint of the signer's key."""
    title = f"Hand-over: {head.name or head.project}"
    place = head.name if head.scope == "place" else ""
    out = Sheet(title, stamp=Stamp(head.project, place, head.on, head.revision))
    out.heading(title)
    out.line(f"{head.project}. Revision {head.revision}, signed by {head.signer} on {head.on}.")
    out.line(f"Fingerprint of the signer's key: {in_groups(key_fingerprint)}", bold=True)
    out.line("It is the signer's if the signer says so: compare it with what they gave you by another way.")
    if len(links) > 1:
        told = [(o.name, o.verdict, o.proof_state, o.turnup_state, str(len(o.open_points))) for o in links]
        out.table(("link", "plan", "tests", "turn-up", "open"), told, (3, 2, 3, 1.5, 0.8))
    for one in links:
        _link(out, one, head.address)
    out.heading("Logbook", 12)
    rows = [(e.day, e.who, e.place, e.link_name, e.words + _after(e)) for e in log[:400]]
    out.table(("day", "who", "place", "link", "what"), rows, (1.3, 1.2, 1.5, 2, 5))
    if len(log) > 400:
        out.line(f"The other {len(log) - 400} entries are in records/log.csv.")
    out.line("Laser light is invisible: never look into a fiber or a port. What is not listed was not checked.")
    return out.bytes()


def _after(line: LogLine) -> str:
    if line.withdrawn:
        return f" (withdrawn: {line.withdrawn})"
    return f" (corrected: {line.corrected_by})" if line.corrected_by else ""


def _link(out: Sheet, one: LinkHandover, address: str) -> None:
    out.heading(one.name, 12)
    out.line(f"{one.ends[0]} to {one.ends[1]}, {one.length}. Plan: {one.verdict}. Tests: {one.proof_state}.")
    out.line(" - ".join(one.chain))
    if address:
        out.line(f"{address.rstrip('/')}/k/{one.key}")
    if one.open_points:
        out.line(f"Open points ({len(one.open_points)}):", bold=True)
        for point in one.open_points:
            out.line(f"- {point}")
    else:
        out.line("No open point.", bold=True)
    if one.modules:
        heads = ("end", "port", "module", "serial", "link", "light", "day")
        out.table(heads, one.modules, (0.8, 1.5, 2, 1.6, 0.8, 3.4, 1.3))
    if one.readings:
        head = ("strand", "nm", "reading", "limit", "", "")
        out.table(head, one.readings, (1, 1, 1.2, 1.2, 1.2, 3))
    if one.strands:
        out.table(("lane", "", "positions along the chain"), one.strands, (1.6, 1.6, 6))
