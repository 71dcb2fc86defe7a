"""What a link with a foreign kind goes through, in a process that has that kind: run by ``test_kinds``.

Prints one line of JSON with what was seen.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

import passerelle.core.parts.kinds as kinds

kinds.__path__.append(str(Path(__file__).parent / "extra"))

from fastapi.testclient import TestClient  # noqa: E402

from passerelle.api.app import create_app  # noqa: E402
from passerelle.core.house import HouseRules  # noqa: E402
from passerelle.core.link.bulk import SetGrade, edits_for  # noqa: E402
from passerelle.core.link.chain import Link  # noqa: E402
from passerelle.core.selection.cost import as_there, cost_of  # noqa: E402
from passerelle.store import projects  # noqa: E402
from passerelle.store.database import Database  # noqa: E402
from tests.core.plain import CATALOG, plain_link  # noqa: E402

API = "/api/v1"


def main(folder: Path) -> dict[str, object]:
    """Put the foreign piece in the place of a cord and take it through the program."""
    database = Database(folder / "live.sqlite")
    with database.write() as session:
        projects.create_project(session, "live", [plain_link()], HouseRules())
    client = TestClient(create_app(database), base_url="http://localhost")
    last = "cord-2"
    before = client.get(f"{API}/links/1").json()
    piece = client.get(f"{API}/links/1/fitting", params={"after": "panel-2", "kind": "furcation"}).json()
    edits = [{"op": "remove", "element": last}, {"op": "insert", "after": "panel-2", "piece": piece}]
    put = client.post(f"{API}/links/1/edits", json={"revision": before["revision"], "edits": edits}).json()
    link = Link.model_validate(put["link"])
    flipped = client.post(
        f"{API}/links/1/edits",
        json={"revision": put["revision"], "edits": [{"op": "flip", "element": "furcation-1"}]},
    ).json()
    plan = client.get(f"{API}/projects/1/plan").text
    opened = client.post(f"{API}/projects/open", json={"text": plan}).json()
    rows = client.get(f"{API}/projects/1/links").json()
    table = client.get(f"{API}/projects/1/links.csv").text
    told = client.get(f"{API}/catalog").json()["kinds"]
    dark = next(f for f in put["review"]["findings"] if f["code"] == "polarity.dark")
    shared = _shared(client, flipped["revision"])
    return {
        "shared": shared,
        "fitted": piece,
        "codes": [f["code"] for f in put["review"]["findings"]],
        "fixes": [f["label"] for f in dark["fixes"]],
        "loss": [t["worst_db"] for t in put["review"]["directions"][0]["terms"] if t["what"] == "clips"],
        "listed": rows[0],
        "flipped": flipped["link"]["elements"][-3],
        "opened": client.get(f"{API}/projects/{opened['id']}/links").json()[0]["pieces"][-3],
        "table": table,
        "told": next(kind for kind in told if kind["kind"] == "furcation"),
        "cost": {line.item: line.count for line in _cost(link)},
        "regraded": len(edits_for(link, SetGrade(grade="OM4"), CATALOG)),
    }


def _shared(client: TestClient, revision: int) -> dict[str, object]:
    """The foreign piece as a shared part: a copy of the link stands on it too, a change of it moves both."""
    other = client.post(f"{API}/links/1/duplicate").json()
    wish = {"revision": revision, "element": "furcation-1", "name": "tail", "count": 2}
    client.post(f"{API}/links/1/share", json=wish)
    on = {"revision": other["revision"], "element": "furcation-1", "part": "tail"}
    laid = client.post(f"{API}/links/{other['id']}/lay", json=on).json()["link"]["elements"][-3]
    plant = client.get(f"{API}/projects/1/plant").json()
    plant["plant"]["parts"][0]["holds"]["length_m"] = 7
    body = {"revision": plant["revision"], "plant": plant["plant"]}
    moved = client.put(f"{API}/projects/1/plant", json=body).json()["moved"]
    lengths = [client.get(f"{API}/links/{n}").json()["link"]["elements"][-3]["length_m"] for n in (1, other["id"])]
    return {"positions": laid["positions"], "moved": len(moved), "lengths": lengths}


def _cost(link: Link) -> tuple[object, ...]:
    links = as_there([link], CATALOG, cable_is_there=True, at_hand=())
    return cost_of(links, HouseRules(), CATALOG).lines


if __name__ == "__main__":
    print(json.dumps(main(Path(sys.argv[1])), default=str))
