"""Served to others as docs/security.md says: a proxy with TLS in front, trusted by its address alone."""

from __future__ import annotations

import asyncio
import http.client
import json
import socket
import ssl
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from pathlib import Path

import pytest
import uvicorn
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID

from passerelle.api.app import create_app
from passerelle.api.passphrase import Gate, write_passphrase
from passerelle.cli.serving import connection_settings
from passerelle.store.database import Database
from tests.clock import NOW

NAME = "plans.example"
WORDS = "four made-up words here"


@contextmanager
def application(database: Database, words: Path, *proxies: str) -> Iterator[int]:
    """The port of the application as the command serves it."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = int(free.getsockname()[1])
    served = create_app(database, [NAME], Gate(words))
    server = uvicorn.Server(uvicorn.Config(served, port=port, log_level="error", **connection_settings(proxies)))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.01)
    yield port
    server.should_exit = True
    thread.join()


def certificate(folder: Path) -> Path:
    """A certificate that signs itself, with its key."""
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, NAME)])
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(1)
        .not_valid_before(NOW - timedelta(days=4000))
        .not_valid_after(NOW + timedelta(days=4000))
        .sign(key, hashes.SHA256())
    )
    plain = serialization.NoEncryption()
    pem = serialization.Encoding.PEM
    path = folder / "proxy.pem"
    path.write_bytes(key.private_bytes(pem, serialization.PrivateFormat.PKCS8, plain) + made.public_bytes(pem))
    return path


@contextmanager
def proxy(behind: int, pem: Path, client: str) -> Iterator[int]:
    """The port of a proxy that ends TLS and says who asks: here always the same client."""
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.load_cert_chain(pem)
    loop = asyncio.new_event_loop()
    ports: list[int] = []

    async def handle(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        head = await reader.readuntil(b"\r\n\r\n")
        lines = [
            line for line in head.split(b"\r\n") if not line.lower().startswith((b"x-forwarded", b"connection"))
        ]
        said = f"X-Forwarded-For: {client}\r\nX-Forwarded-Proto: https\r\nConnection: close".encode()
        inner_in, inner_out = await asyncio.open_connection("127.0.0.1", behind)
        inner_out.write(b"\r\n".join([lines[0], said, *lines[1:]]))
        length = next((int(one.split(b":")[1]) for one in lines if one.lower().startswith(b"content-length")), 0)
        inner_out.write(await reader.readexactly(length))
        writer.write(await inner_in.read())
        await writer.drain()
        writer.close()
        inner_out.close()

    async def serve() -> None:
        server = await asyncio.start_server(handle, "127.0.0.1", 0, ssl=context)
        ports.append(server.sockets[0].getsockname()[1])

    loop.run_until_complete(serve())
    thread = threading.Thread(target=loop.run_forever, daemon=True)
    thread.start()
    yield ports[0]
    loop.call_soon_threadsafe(loop.stop)
    thread.join()


def entered(port: int, said: str, *, tls: bool, forwarded: str = "") -> tuple[int, str]:
    """Status and cookies after a passphrase."""
    context = ssl._create_unverified_context()
    kind = http.client.HTTPSConnection if tls else http.client.HTTPConnection
    link = kind("127.0.0.1", port, timeout=30, **({"context": context} if tls else {}))  # type: ignore[arg-type]
    headers = {"Host": NAME, "Content-Type": "application/json", "Origin": f"{'https' if tls else 'http'}://{NAME}"}
    if forwarded:
        headers |= {"X-Forwarded-For": forwarded, "X-Forwarded-Proto": "https"}
    link.request("POST", "/api/v1/session", json.dumps({"passphrase": said}), headers)
    answer = link.getresponse()
    answer.read()
    link.close()
    return answer.status, "; ".join(answer.headers.get_all("set-cookie") or ())


@pytest.fixture
def words(tmp_path: Path) -> Path:
    write_passphrase(tmp_path / "words", WORDS)
    return tmp_path / "words"


def test_behind_a_trusted_proxy_a_session_travels_by_https_and_a_client_has_its_address(
    database: Database, words: Path, tmp_path: Path
) -> None:
    pem = certificate(tmp_path)
    with application(database, words, "127.0.0.1") as port:
        with proxy(port, pem, "198.51.100.7") as outside:
            assert entered(outside, "a wrong passphrase", tls=True)[0] == 403
            assert entered(outside, WORDS, tls=True)[0] == 429
        with proxy(port, pem, "198.51.100.8") as outside:
            status, cookies = entered(outside, WORDS, tls=True)
    assert status == 200
    assert cookies.count("Secure") == cookies.count("HttpOnly") == 2


def test_without_a_trusted_proxy_nobody_says_whose_address_they_have(database: Database, words: Path) -> None:
    with application(database, words) as port:
        assert entered(port, "a wrong passphrase", tls=False, forwarded="198.51.100.7")[0] == 403
        status, cookies = entered(port, WORDS, tls=False, forwarded="198.51.100.8")
    assert status == 429
    assert "Secure" not in cookies


def test_a_proxy_that_is_no_address_is_refused(capsys: pytest.CaptureFixture[str]) -> None:
    import typer

    with pytest.raises(typer.Exit):
        connection_settings(["proxy.example"])
    assert "127.0.0.1" in capsys.readouterr().err
