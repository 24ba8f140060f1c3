import createClient from "openapi-fetch";
import type { components, paths } from "./schema.gen";

export type Schemas = components["schemas"];
export type StudyState = Schemas["StudyState"];
export type Catalogue = Schemas["Catalogue"];
export type Preset = Schemas["PresetSummary"];
export type CatalogueEntry = Schemas["CatalogueEntry"];
export type Grip = Schemas["GripEntry"];
export type ValueEntry = Schemas["ValueEntry"];
export type PieceMotion = Schemas["PieceMotion"];
export type StepWords = Schemas["StepWords"];
export type Lane = Schemas["Lane"];
export type Specimen = Schemas["SpecimenEntry"];
export type JobState = Schemas["JobState"];
export type FormulaPlotData = Schemas["FormulaPlot"];
export type Operation = Schemas["EditBody"]["operations"][number];
export type ErrorBody = Schemas["ErrorBody"];

export const client = createClient<paths>({ baseUrl: window.location.origin });

/** An error that the server explained. */
export class ServerError extends Error {
  constructor(
    readonly body: ErrorBody,
    readonly status: number,
  ) {
    super(body.hint ? `${body.message} ${body.hint}` : body.message);
  }
}

export function asServerError(error: unknown, status: number): ServerError {
  const body = (error as { error?: ErrorBody } | undefined)?.error;
  return new ServerError(
    body ?? { message: `The server answered ${status}.`, hint: "", kind: "http", problems: [] },
    status,
  );
}

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of an answer, or its explained error thrown. */
export function unwrap<T>({ data, error, response }: Answer<T>): T {
  if (!response.ok) throw asServerError(error, response.status);
  return data as T;
}

/** Operations that are stored together, and what they are called in the history. */
export interface Edit {
  label: string;
  operations: Operation[];
}
