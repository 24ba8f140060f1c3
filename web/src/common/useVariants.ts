import { useQueryClient } from "@tanstack/react-query";
import { client, unwrap, type Operation, type Schemas, type StudyState } from "../api/client";
import { freshId, documentOf } from "../api/document";
import { useInterface } from "./store/store";
import { useChange } from "./useStep";

type Request = Schemas["VariantBody"]["request"];

/** Ways to switch and to change the variants of a study. */
export function useVariants(study: string) {
  const queries = useQueryClient();
  const change = useChange(study, "");
  const now = () => documentOf(queries.getQueryData<StudyState>(["study", study])!);
  const request = async (request: Request, label: string) => {
    try {
      const answer = await client.POST("/api/studies/{study_id}/variant", {
        params: { path: { study_id: study } },
        body: { request },
      });
      const operations = unwrap(answer).operations as Operation[];
      if (operations.length) await change.stored(label, operations);
      return true;
    } catch (error) {
      const text = error instanceof Error ? error.message : String(error);
      useInterface.getState().say({ text, tone: "error" });
      return false;
    }
  };
  /** A variant of two options that are alike so far; resolves with its id. */
  const begin = async (): Promise<string> => {
    const variants = now().variants ?? [];
    const id = freshId(
      "variant",
      variants.map((v) => v.id),
    );
    const item = {
      id,
      name: variants.length ? `Variant ${variants.length + 1}` : "Variant",
      chosen: "a",
      options: [
        { id: "a", name: "A" },
        { id: "b", name: "B" },
      ],
    };
    await change.stored("Begin a variant", [
      { do: "insert", path: "/variants", after: variants.at(-1)?.id ?? null, item: item as never },
    ]);
    return id;
  };
  return {
    begin,
    choose: (variant: string, option: string, name: string) =>
      request({ do: "choose", variant, option }, `Choose ${name}`),
    differ: (variant: string, address: string, label: string) =>
      request({ do: "differ", variant, address }, `${label} differs`),
    same: (variant: string, address: string, label: string) =>
      request({ do: "same", variant, address }, `${label} is the same for all`),
    add: (variant: string) => {
      const own = now().variants?.find((v) => v.id === variant);
      const ids = own?.options.map((o) => o.id) ?? [];
      const option = freshId("option", ids);
      const name = String.fromCharCode(65 + (ids.length % 26));
      return request({ do: "add", variant, option, name }, `Add option ${name}`);
    },
    remove: (variant: string, option: string, name: string) =>
      request({ do: "remove", variant, option }, `Remove option ${name}`),
    rename: (path: string, name: string) =>
      change.edit("Rename", [{ do: "set", path: `${path}/name`, value: name as never }]),
  };
}
