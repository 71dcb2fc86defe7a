"""Every operation keeps to its description, whatever it is sent."""

from __future__ import annotations

import tempfile
from pathlib import Path

import schemathesis
from hypothesis import HealthCheck, settings
from schemathesis.checks import not_a_server_error
from schemathesis.config import SchemathesisConfig
from schemathesis.specs.openapi.checks import response_schema_conformance, status_code_conformance

from passerelle.api.app import create_app
from passerelle.core.house import HouseRules
from passerelle.demo.plant import demo_plant
from passerelle.demo.port_aubier import PROJECT_NAME, demo_links
from passerelle.store import projects
from passerelle.store.database import Database
from tests.clock import SetClock
from tests.depth import DEEP

SLOW = [HealthCheck.too_slow, HealthCheck.filter_too_much, HealthCheck.data_too_large]
BOUNDARIES = SchemathesisConfig.from_dict({"phases": {"coverage": {"enabled": DEEP}}})
"""Each boundary that the description has is sent in deep: some thousand requests for one large body."""


def _app(folder: Path) -> object:
    database = Database(folder / "contract.sqlite", SetClock())
    with database.write() as session:
        projects.create_project(session, PROJECT_NAME, demo_links(), HouseRules(), demo_plant())
    return create_app(database, hosts=["testserver"])


schema = schemathesis.openapi.from_asgi("/api/v1/openapi.json", _app(Path(tempfile.mkdtemp())), config=BOUNDARIES)


@schema.parametrize()
@settings(max_examples=50 if DEEP else 12, suppress_health_check=SLOW)
def test_operation_keeps_its_contract(case: schemathesis.Case) -> None:
    checks = [not_a_server_error, status_code_conformance, response_schema_conformance]
    case.call_and_validate(checks=checks, timeout=120)  # a helper of its own starts slowly on a loaded machine
