import { expect, test } from "vitest";

import { heldIn, shelfIn } from "./dropped";

test.each([
  ["my.json", '{"format": "passerelle", "links": []}', "plan"],
  ["map.geojson", '{"type": "FeatureCollection", "features": []}', "geojson"],
  ["x.json", "{broken", "unknown"],
  ["x.json", '{"a": 1}', "unknown"],
  ["harbor.zip", "PK", "package"],
  ["strand 1.sor", "Map", "trace"],
  ["list.csv", "From;To;Length;Application\na;b;3;x", "links"],
  ["list.csv", "item,price\ncord,3", "prices"],
  ["meter.csv", "link,strand,wavelength,loss_db\nx,1,1310,0.8", "readings"],
  ["ways.csv", "id,name,from,to,kind\n", "plant"],
  ["note.txt", "gate is locked", "unknown"],
])("%s with %s holds %s", (name, text, held) => expect(heldIn(name, text)).toBe(held));

test.each([
  ["id,name,kind,within", "places"],
  ["id,name,from,to,kind,length", "ways"],
  ["id,name,ways,grade,strands", "cables"],
  ["cable,strand,use", "strands"],
  ["id,name,place,count,rate_mbps", "devices"],
  ["id,name,count,why", "orders"],
])("a table with %s is one of %s", (head, shelf) => expect(shelfIn(head)).toBe(shelf));
