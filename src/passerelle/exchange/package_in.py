"""A package: a plan file with its traces and pictures, as a ZIP; bounded before it is unpacked."""

from __future__ import annotations

import hashlib
import io
import struct
import zipfile
import zlib

from passerelle.exchange.attachment import AttachmentError, media_type_of

_CENTRAL_HEAD = 46
_UTF8_NAME = 0x800
MOST_FILES = 5000
MOST_UNPACKED = 512 * 1024 * 1024
MOST_EACH = 128 * 1024 * 1024


class PackageError(ValueError):
    """A package that cannot be read; the message names the file in it and says what to do."""


def read_package(content: bytes) -> tuple[str, list[tuple[bytes, str]]]:
    """The plan file's text and the attachments with what they are.

    Raises:
        PackageError: no ZIP, too large, without a plan, or an attachment that is damaged or has another hash.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            entries = archive.infolist()
            check_entries(entries)
            plan = next((one for one in entries if one.filename == "plan.json"), None)
            if plan is None:
                raise PackageError("there is no plan.json in it: this is no package of Passerelle")
            text = archive.read(plan).decode("utf-8")
            found = [_attachment(archive, one) for one in entries if one.filename.startswith("attachments/")]
    except (PackageError, AttachmentError):
        raise
    except UnicodeDecodeError as error:
        raise PackageError("plan.json is no UTF-8 text") from error
    except (
        zipfile.BadZipFile,
        zipfile.LargeZipFile,
        OSError,
        EOFError,
        RuntimeError,
        NotImplementedError,
        ValueError,
        zlib.error,
        struct.error,
    ) as error:
        raise PackageError(f"the package cannot be unpacked: {error}") from error
    return text, found


def check_entries(entries: list[zipfile.ZipInfo]) -> None:
    """See that a package may be unpacked; raises PackageError."""
    if len(entries) > MOST_FILES:
        raise PackageError(f"{len(entries)} files are in it, {MOST_FILES} at most are read")
    if sum(one.file_size for one in entries) > MOST_UNPACKED or any(one.file_size > MOST_EACH for one in entries):
        raise PackageError("it is larger than 512 MiB once it is unpacked: this is no package")


def _attachment(archive: zipfile.ZipFile, entry: zipfile.ZipInfo) -> tuple[bytes, str]:
    body = archive.read(entry)
    said = entry.filename.rsplit("/", 1)[-1].split(".")[0]
    if hashlib.sha256(body).hexdigest() != said:
        raise PackageError(f"{entry.filename}: its content is not what its name says: it was changed or damaged")
    try:
        return body, media_type_of(body)
    except AttachmentError as error:
        raise PackageError(f"{entry.filename}: {error}") from error


_LOCAL_HEAD, _END = 30, 22
"""Bytes of the head of an entry and of the end of an archive (PKWARE APPNOTE 4.3.7 and 4.3.16), without names."""


def check_layout(content: bytes, entries: list[zipfile.ZipInfo]) -> None:
    """Refuse an archive that holds anything but its entries: before, between or after them, or beside them.

    Raises:
        PackageError: bytes that no entry owns, a comment, an entry twice, or one that is written otherwise than
            packages are.
    """
    names = [one.filename for one in entries]
    if len(set(names)) < len(names):
        twice = next(name for name in names if names.count(name) > 1)
        raise PackageError(f"{twice} stands in it twice: it was changed")
    at = 0
    for one in sorted(entries, key=lambda entry: entry.header_offset):
        head = content[at : at + _LOCAL_HEAD]
        name = one.filename.encode("utf-8")
        lengths = struct.unpack("<HH", head[26:30]) if len(head) == _LOCAL_HEAD else None
        plain = not one.flag_bits & ~_UTF8_NAME and not one.extra and not one.comment
        named = content[at + _LOCAL_HEAD : at + _LOCAL_HEAD + len(name)] == name
        sizes = head[14:26] == struct.pack("<III", one.CRC, one.compress_size, one.file_size)
        if one.header_offset != at or not plain or lengths != (len(name), 0) or not named or not sizes:
            raise PackageError(f"there is something before or in the entry {one.filename}: it was changed")
        at += _LOCAL_HEAD + len(name) + one.compress_size
    end = content[-_END:]
    size, begins, comment = struct.unpack("<IIH", end[12:22]) if end[:4] == b"PK\x05\x06" else (0, 0, 1)
    if comment or begins != at or at + size + _END != len(content):
        raise PackageError("there is something after its entries, or a comment: it was changed")
    if size != sum(_CENTRAL_HEAD + len(name.encode("utf-8")) for name in names):
        raise PackageError("its directory holds more than its entries: it was changed")
