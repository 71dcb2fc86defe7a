import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { ProblemNote } from "../shared/ProblemNote";
import { CardHead } from "./CardHead";
import { used } from "./lastUse";
import { useGeoImport, useGeoPreview } from "./queries";

const SAMPLE = JSON.stringify({
  type: "FeatureCollection",
  features: [
    {
      type: "Feature",
      properties: { id: "gate", name: "Gatehouse", kind: "building" },
      geometry: { type: "Point", coordinates: [2.001, 51.001] },
    },
  ],
});

/** Places and ways as GeoJSON, both ways. */
export function GeoSection({ projectId, given = "" }: { projectId: number; given?: string }) {
  const [text, setText] = useState(given);
  const [slack, setSlack] = useState("5");
  const preview = useGeoPreview(projectId, text, slack);
  const store = useGeoImport(projectId);
  const found = text ? preview.data : undefined;
  return (
    <Box as="section" aria-label="GeoJSON" borderWidth="1px" px={3} py={2} mt={3}>
      <CardHead
        title="Places and ways as GeoJSON"
        what="Points are places, lines are ways; longitude and latitude in degrees. A way without a length gets the one of its line, and slack. Places without degrees are left out."
        use="geojson"
        projectId={projectId}
        sample={["gate.geojson", SAMPLE]}
      />
      <Flex gap={2} mt={1} align="center" wrap="wrap">
        <Button size="xs" variant="outline" asChild>
          <a href={`/api/v1/projects/${projectId}/plant/geojson`} download>
            GeoJSON
          </a>
        </Button>
        <input
          type="file"
          accept=".json,.geojson"
          aria-label="GeoJSON file"
          onChange={async (event) => setText((await event.target.files?.[0]?.text()) ?? "")}
        />
        <label style={{ fontSize: 13 }}>
          slack{" "}
          <Input
            size="xs"
            width="52px"
            className="figures"
            aria-label="Slack %"
            borderColor="border.emphasized"
            value={slack}
            onChange={(event) => setSlack(event.target.value)}
          />{" "}
          %
        </label>
      </Flex>
      <ProblemNote error={preview.error ?? store.error} />
      {found && (
        <Box mt={1} aria-live="polite">
          <Text fontWeight={600}>
            {found.places.length} new places, {found.ways.length} new ways; {found.measured.length} lengths from the
            line plus {found.slack_percent} %.
          </Text>
          <Button
            size="xs"
            mt={1}
            loading={store.isPending}
            onClick={() =>
              store.mutate(
                { text, slack },
                {
                  onSuccess: () => {
                    used(projectId, "geojson");
                    setText("");
                  },
                },
              )
            }
          >
            Lay it over the plant
          </Button>
        </Box>
      )}
      {store.isSuccess && !text && <Text role="status">It was imported; one undo takes it back.</Text>}
    </Box>
  );
}
