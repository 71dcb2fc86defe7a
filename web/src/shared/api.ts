import type { components } from "./generated/api";

type Schemas = components["schemas"];
export type Project = Schemas["ProjectOut"];
export type LinkRow = Schemas["LinkRowOut"];
export type LinkDetail = Schemas["LinkOut"];
export type Review = Schemas["Review"];
export type DirectionReview = Schemas["DirectionReview"];
export type Limit = Schemas["Limit"];
export type LossTerm = Schemas["LossTerm"];
export type Finding = Schemas["Finding"];
export type Fix = Schemas["Fix"];
export type Source = Schemas["Source"];
export type Verdict = Schemas["Verdict"];
export type Severity = Schemas["Severity"];
export type Catalog = Schemas["CatalogOut"];
export type NewLink = Schemas["NewLink"];
export type Walk = Schemas["WalkOut"];
export type HistoryEntry = Schemas["HistoryOut"];
export type BulkRequest = Schemas["BulkRequest"];
export type BulkOut = Schemas["BulkOut"];
export type BulkChange = BulkRequest["change"];
export type ImportRequest = Schemas["ImportRequest"];
export type ImportPreview = Schemas["ImportPreview"];
export type ImportOut = Schemas["ImportOut"];
export type LikeLink = Schemas["LikeLink"];
export type Answer = Schemas["Answer"];
export type WhatIf = Schemas["WhatIf"];
export type WhatIfOut = Schemas["WhatIfOut"];
export type FigureLine = Schemas["FigureLine"];
export type OwnFigure = Schemas["OwnFigure"];
export type CheckLine = Schemas["CheckLine"];
export type PlantOut = Schemas["PlantOut"];
export type Plant = Schemas["Plant"];
export type Outage = Schemas["Outage"];
export type Evidence = Schemas["Evidence"];
export type Identified = Schemas["Identified"];
export type PullSheet = Schemas["PullSheet"];
export type BendLoss = Schemas["BendLoss"];
export type Option = Answer["options"][number];
export type PricesOut = Schemas["PricesOut"];
export type RequirementsRequest = Schemas["RequirementsRequest"];
export type AnsweredTable = Schemas["AnsweredTable"];
export type Route = Schemas["Route"];
export type RouteRequest = Schemas["RouteRequest"];
export type DiversePair = Schemas["DiversePair"];
export type Cure = Schemas["Cure"];
export type Layouts = Schemas["Layouts"];
export type Capacity = Schemas["Capacity"];
export type FeedResult = Schemas["FeedResult"];
export type SwitchPower = Schemas["SwitchPower"];
export type ClosureSheet = Schemas["ClosureSheet"];
export type ScopeSheet = Schemas["ScopeSheet"];
export type PlantTableRequest = Schemas["PlantTableRequest"];
export type PlantTableOut = Schemas["PlantTableOut"];
export type GeoOut = Schemas["GeoOut"];
export type StrandRow = Schemas["StrandRow"];
export type Stage = LinkRow["stage"];
export type HouseRules = Schemas["HouseRules"];
export type VerdictChange = Schemas["VerdictChange"];
export type Preview = Schemas["PreviewOut"];
export type Problem = Schemas["Problem"];
export type Element = Schemas["Link"]["elements"][number];
export type Edit = Schemas["EditRequest"]["edits"][number];
export type Kind = Element["kind"];

/** An answer that is not a success, with what the api says about it. */
export class ProblemError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

/** One call of the api. Throws ProblemError with the api's words, or with what to do when it is not there. */
export async function call<T>(path: string, method = "GET", body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api/v1${path}`, {
      method,
      headers: body === undefined ? {} : { "content-type": "application/json" },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
  } catch {
    const detail = "Passerelle does not answer: is it still running? Nothing that was confirmed is lost.";
    throw new ProblemError({ type: "about:blank", title: "No answer", status: 0, detail, errors: [] });
  }
  const content = await response.json().catch(() => null);
  if (!response.ok) {
    const detail = `The answer was ${response.status}.`;
    throw new ProblemError(content ?? { type: "about:blank", title: "Error", status: response.status, detail, errors: [] });
  }
  return content as T;
}
