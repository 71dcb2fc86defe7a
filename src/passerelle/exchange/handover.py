"""A hand-over as a package: a ZIP with a manifest of SHA-256 sums, signed; and what can be said of one that came.

``manifest.json`` names every file but the sheet and the signature, with its sum. Its own sum is the digest: it is
printed on the sheet. ``signature.json`` holds digest, the sheet's sum, who signed and when, and the signature of
all of that. One changed byte anywhere is found.
"""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
import zlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from passerelle.core.sources import Frozen
from passerelle.core.turnup.handover import LinkHandover
from passerelle.core.turnup.logbook import LogLine
from passerelle.exchange.package_in import PackageError, check_entries
from passerelle.exchange.sheet import Sheet, Stamp
from passerelle.exchange.signing import SigningKey, is_signed
from passerelle.exchange.table_out import neutral, write_csv

FORMAT = "passerelle-handover"
MANIFEST, SIGNATURE, SHEET = "manifest.json", "signature.json", "handover.pdf"
Files = Mapping[str, bytes]


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


def signed_package(
    files: Files, head: Head, sheet: Callable[[str, str], bytes], key: SigningKey
) -> tuple[bytes, str]:
    """The package and its digest.

    Args:
        files: by their names in the package.
        head: what it is of.
        sheet: makes the printed sheet from the digest and the public key.
        key: of the installation.
    """
    manifest = _json(
        {
            "format": FORMAT,
            "version": 1,
            "of": head.scope,
            "name": head.name,
            "project": head.project,
            "revision": head.revision,
            "files": {name: _sum(body) for name, body in sorted(files.items())},
        }
    )
    digest = _sum(manifest)
    printed = sheet(digest, key.public)
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


def _sum(body: bytes) -> str:
    return hashlib.sha256(body).hexdigest()


def _json(value: Any) -> bytes:
    return json.dumps(value, sort_keys=True, ensure_ascii=False, indent=1).encode("utf-8")


class Verified(Frozen):
    """What can be said of a package: ``whole`` its sums hold; ``signature`` and ``digest`` what was checked.

    ``proven`` only where a signature by a key that was given, or the printed digest, was checked.
    """

    whole: bool
    signature: Literal["valid", "by a key that nobody vouched for", "wrong", "none"]
    digest: Literal["as given", "other than given", "not given"]
    proven: bool
    words: str
    digest_sha256: str = ""
    public_key: str = ""
    signer: str = ""
    on: str = ""
    of: str = ""
    name: str = ""
    revision: int | None = None
    problems: tuple[str, ...] = ()


def verified(content: bytes, *, digest: str = "", key: str = "") -> Verified:
    """Check a package.

    Args:
        content: the ZIP.
        digest: as it is printed on the sheet, blanks allowed; empty where one does not have it.
        key: the public key of who should have signed, in hexadecimal; empty where nobody vouches for one.

    Raises:
        PackageError: it cannot be unpacked, is too large, or is no hand-over.
    """
    files = _unpacked(content)
    if MANIFEST not in files:
        raise PackageError("there is no manifest.json in it: this is no hand-over")
    try:
        manifest = json.loads(files[MANIFEST])
        sums, form = dict(manifest["files"]), manifest["format"]
    except (ValueError, KeyError, TypeError) as error:
        raise PackageError("manifest.json cannot be read: it was changed or damaged") from error
    if form != FORMAT:
        raise PackageError(f"its manifest is of '{form}': this is no hand-over")
    problems = _wrong_sums(files, sums)
    own = _sum(files[MANIFEST])
    signed, said = _signature(files, own, key, problems)
    given = "".join(digest.split()).lower()
    same: Literal["as given", "other than given", "not given"] = (
        "not given" if not given else "as given" if given == own else "other than given"
    )
    if same == "other than given":
        problems.append("the digest is not the one that was given: this is another package, or it was changed")
    proven = not problems and (signed == "valid" or same == "as given")
    return Verified(
        whole=not problems,
        signature=signed,
        digest=same,
        proven=proven,
        words=_words(problems, signed, same),
        digest_sha256=own,
        public_key=str(said.get("public_key", "")),
        signer=str(said.get("signer", "")),
        on=str(said.get("on", "")),
        of=str(manifest.get("of", "")),
        name=str(manifest.get("name", "")),
        revision=manifest.get("revision") if isinstance(manifest.get("revision"), int) else None,
        problems=tuple(problems),
    )


def _unpacked(content: bytes) -> dict[str, bytes]:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            entries = archive.infolist()
            check_entries(entries)
            names = [one.filename for one in entries]
            if len(set(names)) < len(names):
                twice = next(name for name in names if names.count(name) > 1)
                raise PackageError(f"{twice} stands in it twice: it was changed")
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


def _signature(
    files: Files, own: str, key: str, problems: list[str]
) -> tuple[Literal["valid", "by a key that nobody vouched for", "wrong", "none"], dict[str, Any]]:
    """What the signature is worth; what is wrong is added to the problems."""
    if SIGNATURE not in files:
        if SHEET in files:
            problems.append(f"{SHEET} is in it and no signature: nothing says that it belongs here")
        if key:
            problems.append("a key was given, and the package is not signed")
        return "none", {}
    try:
        said = dict(json.loads(files[SIGNATURE]))
        signature, public = str(said.pop("signature")), str(said["public_key"])
    except (ValueError, KeyError, TypeError):
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
    if public != key.strip().lower():
        problems.append("it was signed with another key than the one that was given")
        return "wrong", said
    return "valid", said


def _words(problems: Sequence[str], signed: str, same: str) -> str:
    if problems:
        return f"Refused: {problems[0]}."
    if signed == "valid":
        return "Signed with the key that was given, and nothing was changed since."
    if same == "as given":
        return "Its digest is the one that was given: nothing was changed since it was printed."
    if signed == "none":
        return "The sums hold. That alone only proves the transport: anybody can make new sums."
    return (
        "The sums hold and the signature fits the key in the package. Whose key that is nobody vouched for: "
        "compare it, or the digest, with the printed sheet."
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


def handover_pdf(
    head: Head, links: Sequence[LinkHandover], log: Sequence[LogLine], digest: str, public: str
) -> bytes:
    """The printed sheet of a hand-over, with its digest."""
    title = f"Hand-over: {head.name or head.project}"
    place = head.name if head.scope == "place" else ""
    out = Sheet(title, stamp=Stamp(head.project, place, head.on, head.revision))
    out.heading(title)
    out.line(f"{head.project}. Revision {head.revision}, signed by {head.signer} on {head.on}.")
    out.line("Digest (SHA-256): " + " ".join(digest[n : n + 8] for n in range(0, 64, 8)), bold=True)
    out.line("Key of the installation: " + " ".join(public[n : n + 8] for n in range(0, 64, 8)))
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
