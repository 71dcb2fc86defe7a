"""A package: a plan file with its traces and pictures, as a ZIP; bounded before it is unpacked."""

from __future__ import annotations

import hashlib
import io
import zipfile

from passerelle.exchange.attachment import AttachmentError, media_type_of

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
    except UnicodeDecodeError as error:
        raise PackageError("plan.json is no UTF-8 text") from error
    except (
        zipfile.BadZipFile,
        zipfile.LargeZipFile,
        OSError,
        EOFError,
        RuntimeError,
        NotImplementedError,
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
