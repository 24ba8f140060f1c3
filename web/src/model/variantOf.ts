import type { StudyDocument, Variant } from "../api/document";

/** Addresses of what a variant switches. */
export function switchedBy(variant: Variant): string[] {
  return [...new Set(variant.options.flatMap((o) => Object.keys(o.kept ?? {})))];
}

/** The variant that switches what stands at an address, alone or with what it belongs to. */
export function variantOf(document: StudyDocument, address: string): Variant | undefined {
  return document.variants?.find((v) =>
    switchedBy(v).some((a) => a === address || address.startsWith(`${a}/`)),
  );
}
