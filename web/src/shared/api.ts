import type { components } from "./generated/api";
import { type Doubt, ask, doubtsOf, meant, pathWithReading, withReading } from "./doubt";
import { setAsked, who } from "./session";
import { underName } from "./work";

type Schemas = components["schemas"];
export type TurnUpOut = Schemas["TurnUpOut"];
export type TurnUpsOut = Schemas["TurnUpsOut"];
export type TurnUpLink = Schemas["TurnUpLink"];
export type DiagnosisOut = Schemas["DiagnosisOut"];
export type LinkLook = Schemas["LinkLook"];
export type NextLook = Schemas["NextLook"];
export type BoxesOut = Schemas["BoxesOut"];
export type BoxOut = Schemas["BoxOut"];
export type BoxWish = Schemas["BoxWish"];
export type SecretWish = Schemas["SecretWish"];
export type WriteOut = Schemas["WriteOut"];
export type NetworkOut = Schemas["NetworkOut"];
export type LogLine = Schemas["LogLine"];
export type HandoverOut = Schemas["HandoverOut"];
export type Verified = Schemas["Verified"];
export type ModuleOut = Schemas["ModuleOut"];
export type EndOut = Schemas["EndOut"];
export type Window = Schemas["Window"];
export type LaneStands = Schemas["LaneStands"];
export type Difference = Schemas["Difference"];
export type Ticked = Schemas["Ticked"];
export type Project = Schemas["ProjectOut"];
export type LinkRow = Schemas["LinkRowOut"];
export type LinkPage = Schemas["LinkPage"];
export type LinkNews = Schemas["LinkNews"];
export type WaitingLine = Schemas["WaitingOut"];
export type PortClash = Schemas["PortClash"];
export type LinkDetail = Schemas["LinkOut"];
export type Review = Schemas["Review"];
export type DirectionReview = Schemas["DirectionReview"];
export type Limit = Schemas["Limit"];
export type LossTerm = Schemas["LossTerm"];
export type Finding = Schemas["Finding"];
export type MethodWish = Schemas["MethodWish"];
export type MethodAnswer = Schemas["MethodAnswer"];
export type Method = Schemas["Method"];
export type BackboneLink = Schemas["BackboneLink"];
export type TrunkSheet = Schemas["TrunkSheet"];
export type SplitPort = Schemas["SplitPort"];
export type CrossingCard = Schemas["CrossingCard"];
export type ArraySeen = Schemas["ArraySeen"];
export type Trial = Schemas["Trial"];
export type StrandTable = Schemas["StrandTable"];
export type FaceSeen = Schemas["FaceSeen"];
export type Fix = Schemas["Fix"];
export type Reading = NonNullable<Schemas["Link"]["readings"]>[number];
export type Datasheet = Schemas["Datasheet"];
export type Source = Schemas["Source"];
export type Verdict = Schemas["Verdict"];
export type Severity = Schemas["Severity"];
export type Catalog = Schemas["CatalogOut"];
export type NewLink = Schemas["NewLink"];
export type Walk = Schemas["WalkOut"];
export type Happened = Schemas["EventOut"];
export type HistoryEntry = Schemas["HistoryOut"];
export type BulkRequest = Schemas["BulkRequest"];
export type BulkOut = Schemas["BulkOut"];
export type BulkChange = BulkRequest["change"];
export type ImportRequest = Schemas["ImportRequest"];
export type WayChoice = Schemas["WayChoice"];
export type Help = Schemas["Help"];
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
export type FeedAnswer = Schemas["FeedAnswer"];
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
export type BillOut = Schemas["BillOut"];
export type BillLine = Schemas["BillLine"];
export type AskedBy = Schemas["AskedBy"];
export type Share = Schemas["Share"];
export type Paper = Schemas["PaperOut"];
export type LineRequest = Schemas["LineRequest"];
export type Arrival = Schemas["Arrival"];
export type DeliveryRequest = Schemas["DeliveryRequest"];
export type DeliveryOut = Schemas["DeliveryOut"];
export type ReelsOut = Schemas["ReelsOut"];
export type ReelPlan = Schemas["ReelPlan"];
export type ReelSeen = Schemas["ReelSeen"];
export type ReelRun = Schemas["CutRun"];
export type ReelRequest = Schemas["ReelRequest"];
export type ReelMove = Schemas["ReelMove"];
export type LabelsOut = Schemas["LabelsOut"];
export type Labelled = Schemas["Labelled"];
export type PanelFront = Schemas["PanelFront"];
export type PanelPort = Schemas["PanelPort"];
export type DayPlan = Schemas["DayPlan"];
export type DayPull = Schemas["DayPull"];
export type BuiltPiece = Schemas["BuiltPiece"];
export type OrderLength = Schemas["OrderLength"];
export type Schools = Schemas["SchoolsOut"];
export type SchoolSeen = Schemas["SchoolSeen"];
export type PieceState = Schemas["StateRequest"]["state"];
export type ProofOut = Schemas["ProofOut"];
export type ProofRow = Schemas["ProofRow"];
export type ProofFace = Schemas["ProofFace"];
export type ReferenceSeen = Schemas["ReferenceSeen"];
export type ReferenceWish = Schemas["ReferenceWish"];
export type ReadingWish = Schemas["ReadingWish"];
export type InspectionWish = Schemas["InspectionWish"];
export type StrandsWish = Schemas["StrandsWish"];
export type CertifiedWish = Schemas["CertifiedWish"];
export type FaceZone = Schemas["FaceZone"];
export type FaceDefect = Schemas["Defect"];
export type Graded = Schemas["Graded"];
export type TestedOut = Schemas["TestedOut"];
export type TestedLink = Schemas["TestedLink"];
export type TraceView = Schemas["TraceView"];
export type DigRange = Schemas["DigRange"];
export type TracedJoint = Schemas["TracedJoint"];
export type MeasureTrace = Schemas["MeasureTrace"];
export type InstrumentsOut = Schemas["InstrumentsOut"];
export type InstrumentWish = Schemas["InstrumentWish"];
export type InstrumentRow = Schemas["Instrument"];
export type ReadingsRequest = Schemas["ReadingsRequest"];
export type ReadingsOut = Schemas["ReadingsOut"];
export type RecordOut = Schemas["RecordOut"];
export type KeyFound = Schemas["KeyOut"];
export type Job = Schemas["JobOut"];
export type Storage = Schemas["StorageOut"];

/** Whether the same again may help: the api says so, it did not answer, or the passphrase has been said since. */
export const worthAnotherTry = (error: unknown): error is ProblemError =>
  error instanceof ProblemError &&
  (error.problem.status === 401 || (typeof error.problem.retry_s === "number" && error.problem.status !== 403));

/** Whether the database was busy, so that nothing was changed. */
export const isBusy = (error: unknown): boolean => error instanceof ProblemError && error.problem.status === 503;

/** An answer that is not a success, with what the api says about it. */
export class ProblemError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

/** One call of the api that may take long: how far it is stands on the screen meanwhile, and it can be stopped. */
export const callLong = <T>(path: string, method = "GET", body?: unknown): Promise<T> =>
  underName((name) => call<T>(path, method, body, name));

/** One call of the api. Throws ProblemError with the api's words, or with what to do when it is not there. */
export const call = <T>(
  path: string,
  method = "GET",
  body?: unknown,
  work = "",
  signal?: AbortSignal,
): Promise<T> =>
  meantCall<T>({ path, body }, (asked) => once(asked.path, method, asked.body, work, signal), method);

/** The same for a question that changes nothing: the person is not stopped while typing, the page asks in its place. */
export const callLive = <T>(path: string, body: unknown, signal?: AbortSignal): Promise<T> =>
  meantCall<T>({ path, body }, (asked) => once(asked.path, "POST", asked.body, "", signal), "GET");

interface Asked {
  path: string;
  body: unknown;
}

const withNumber = ({ path, body }: Asked, doubt: Doubt, reading: string): Asked => ({
  path: pathWithReading(path, doubt, reading),
  body: withReading(body, doubt, reading),
});

/** Sends it again where the core did not know how a comma is meant and the person does. */
async function meantCall<T>(first: Asked, send: (asked: Asked) => Promise<unknown>, method: string): Promise<T> {
  let asked = first;
  for (;;) {
    try {
      return (await send(asked)) as T;
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      const before = asked;
      for (const doubt of doubtsOf(error.problem)) {
        const typedHere = withNumber(asked, doubt, "");
        if (typedHere.path === asked.path && typedHere.body === asked.body) continue; // of a file: that says so itself
        const reading = meant(doubt) ?? (method === "GET" ? null : await ask(doubt));
        if (reading == null) throw error;
        asked = withNumber(asked, doubt, reading);
      }
      if (asked.path === before.path && asked.body === before.body) throw error;
    }
  }
}

async function once(path: string, method: string, body: unknown, work: string, signal?: AbortSignal) {
  let response: Response;
  try {
    response = await fetch(`/api/v1${path}`, {
      method,
      headers: {
        ...(body === undefined ? {} : { "content-type": "application/json" }),
        ...(who() ? { "x-who": encodeURIComponent(who()) } : {}),
        ...(work ? { "x-work": work } : {}),
      },
      body: body === undefined ? undefined : JSON.stringify(body),
      signal,
    });
  } catch (error) {
    if (signal?.aborted) throw error;
    const detail = "Passerelle does not answer: is it still running? Nothing that was confirmed is lost.";
    throw new ProblemError({ type: "about:blank", title: "No answer", status: 0, detail, errors: [], retry_s: 1 });
  }
  const content = await response.json().catch(() => null);
  if (response.status === 401) setAsked(true);
  if (!response.ok) {
    const detail = `The answer was ${response.status}.`;
    throw new ProblemError(
      content ?? { type: "about:blank", title: "Error", status: response.status, detail, errors: [] },
    );
  }
  return content as unknown;
}
