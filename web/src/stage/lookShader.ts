import * as THREE from "three";
import type { LookHeader } from "../api/frame";
import { makePrintUniforms, PRINTS, SEEN_AT, type PrintUniforms } from "./printShader";

/**
 * The looks of a piece in shaders: numbers of each point, called channels, and what each look makes
 * of them. Amounts, such as the roughness, are blended at the points; colours at each pixel, so that
 * a gradient has sharp bands on a coarse surface.
 */

/** As docs/wire.md has them: colours and amounts of a look, channels, looks. */
const AMOUNTS = 8;
const COLOURS = 2;
export const MOST_CHANNELS = 12;
export const MOST_LOOKS = 6;
/** The amounts that are told apart by name here. */
export const AMOUNT = {
  roughness: 0,
  metal: 1,
  opacity: 2,
  glow: 3,
  glass: 4,
  coat: 5,
  sheen: 6,
  size: 7,
} as const;

const KINDS = { points: 0, copies: 1, slope: 2, facing: 3, depth: 4, print: 5 } as const;
const MODES = ["replace", "multiply", "add", "subtract", "lighten", "darken"];

export interface LookUniforms extends PrintUniforms {
  uGradients: { value: THREE.DataTexture };
  uTables: { value: THREE.DataTexture };
  uChannels: { value: number };
  /** Kind, slot or row of the table, low end or number of the print, 1 / range. */
  uChannel: { value: THREE.Vector4[] };
  /** Axis of a slope; or of what is seen: channel below, way of blending, strength, both sides. */
  uChannelMore: { value: THREE.Vector4[] };
  uLooks: { value: number };
  /** Channel by which each look is blended in, or -1; whether it glows in a colour of its own. */
  uLook: { value: THREE.Vector2[] };
  /** Low, high, channel or -1. */
  uAmount: { value: THREE.Vector3[] };
  /** By which it is shaded where LIT_SPHERE is defined. */
  uSphere: { value: THREE.Texture | null };
  uLookColour: { value: THREE.Color[] };
  /** Channel, -1, or -2 less the number of the picture that it is as; row among the gradients. */
  uColourBy: { value: THREE.Vector2[] };
}

const repeat = <T>(count: number, make: () => T): T[] => Array.from({ length: count }, make);

function blank() {
  const texture = new THREE.DataTexture(new Uint8Array([255, 255, 255, 255]), 1, 1);
  texture.needsUpdate = true;
  return texture;
}

export function makeLookUniforms(): LookUniforms {
  return {
    ...makePrintUniforms(),
    uGradients: { value: blank() },
    uTables: { value: blank() },
    uChannels: { value: 0 },
    uChannel: { value: repeat(MOST_CHANNELS, () => new THREE.Vector4()) },
    uChannelMore: { value: repeat(MOST_CHANNELS, () => new THREE.Vector4()) },
    uSphere: { value: null },
    uLooks: { value: 1 },
    uLook: { value: repeat(MOST_LOOKS, () => new THREE.Vector2(-1, 0)) },
    uAmount: { value: repeat(MOST_LOOKS * AMOUNTS, () => new THREE.Vector3(0, 0, -1)) },
    uLookColour: { value: repeat(MOST_LOOKS * COLOURS, () => new THREE.Color()) },
    uColourBy: { value: repeat(MOST_LOOKS * COLOURS, () => new THREE.Vector2(-1, -1)) },
  };
}

/** What both kinds of shaders know of the looks, patterns and pictures included. */
export const LOOK_BLENDING = /* glsl */ `
uniform int uLooks;
uniform vec2 uLook[${MOST_LOOKS}];
uniform int uChannels;
uniform vec4 uChannel[${MOST_CHANNELS}];
uniform vec4 uChannelMore[${MOST_CHANNELS}];
uniform sampler2D uTables;
uniform vec3 uAmount[${MOST_LOOKS * AMOUNTS}];
${PRINTS}

float blended(float below, float t, int mode, float strength) {
  float made = t;
  if (mode == 1) made = below * t;
  else if (mode == 2) made = below + t;
  else if (mode == 3) made = below - t;
  else if (mode == 4) made = max(below, t);
  else if (mode == 5) made = min(below, t);
  return clamp(mix(below, clamp(made, 0.0, 1.0), strength), 0.0, 1.0);
}
// The channels that are found by whoever looks, in their order. cosine : between the normal and the
// way to the eye; away : how far that is. Patterns are there once findPrints has found them.
void viewChannels(float cosine, float away, inout float c[${MOST_CHANNELS}]) {
  for (int k = 0; k < ${MOST_CHANNELS}; k++) {
    if (k >= uChannels) break;
    vec4 told = uChannel[k], more = uChannelMore[k];
    int kind = int(told.x);
    if (kind < 3) continue;
    float measure = kind == 4 ? away : more.w > 0.5 ? abs(cosine) : cosine;
    float share = clamp((measure - told.z) * told.w, 0.0, 1.0);
#ifdef PRINTED
    if (kind == 5) share = printValue[int(told.z)];
#endif
    float rows = float(textureSize(uTables, 0).y);
    float t = textureLod(uTables, vec2((share * 63.0 + 0.5) / 64.0, (told.y + 0.5) / rows), 0.0).r;
    c[k] = more.x < 0.0 ? t : blended(c[int(more.x)], t, int(more.y), more.z);
  }
}
void findAmounts(float c[${MOST_CHANNELS}], out float a[${AMOUNTS}]) {
  for (int l = 0; l < ${MOST_LOOKS}; l++) {
    if (l >= uLooks) break;
    float weight = uLook[l].x < 0.0 ? 1.0 : c[int(uLook[l].x)];
    for (int k = 0; k < ${AMOUNTS}; k++) {
      vec3 told = uAmount[l * ${AMOUNTS} + k];
      float own = told.z < 0.0 ? told.x : mix(told.x, told.y, c[int(told.z)]);
      a[k] = l == 0 ? own : mix(a[k], own, weight);
    }
  }
}
`;

/** Numbers of a vertex, from 0 to 1, and what the looks make of them. */
export const LOOK_VERTEX = /* glsl */ `
// Strokes have these of both ends of each segment, and there is room for sixteen in all.
#ifndef STROKES
attribute float value;
attribute vec4 channelsA;
attribute vec4 channelsB;
#ifdef PRINTED
attribute vec2 printUv;
attribute vec3 printRest;
#endif
#endif
#ifdef COPIES
attribute float copyValue;
attribute vec4 copyChannelsA;
attribute vec4 copyChannelsB;
#endif
${SEEN_AT}
${LOOK_BLENDING}

float among(vec4 a, vec4 b, int k) {
  vec4 four = k < 4 ? a : b;
  int j = k < 4 ? k : k - 4;
  return j == 0 ? four.x : j == 1 ? four.y : j == 2 ? four.z : four.w;
}
// at : in the piece; eye : towards it, unit, and n the normal, both as the eye sees them
void findChannels(vec3 at, vec3 n, vec3 eye, float away, float own, vec4 ownA, vec4 ownB,
                  out float c[${MOST_CHANNELS}]) {
  for (int k = 0; k < ${MOST_CHANNELS}; k++) c[k] = 0.0;
  for (int k = 0; k < ${MOST_CHANNELS}; k++) {
    if (k >= uChannels) break;
    vec4 told = uChannel[k], more = uChannelMore[k];
    int kind = int(told.x), slot = int(told.y);
    if (kind == 0) c[k] = slot == 0 ? own : among(ownA, ownB, slot - 1);
#ifdef COPIES
    else if (kind == 1) c[k] = slot == 0 ? copyValue : among(copyChannelsA, copyChannelsB, slot - 1);
#endif
    else if (kind == 2) c[k] = clamp((dot(at, more.xyz) - told.z) * told.w, 0.0, 1.0);
  }
  viewChannels(dot(n, eye), away, c);
}
`;

/** Colours of the looks, from the channels of a point or pixel; after LOOK_BLENDING. */
export const LOOK_COLOURS = /* glsl */ `
uniform sampler2D uGradients;
uniform vec3 uLookColour[${MOST_LOOKS * COLOURS}];
uniform vec2 uColourBy[${MOST_LOOKS * COLOURS}];
float channelOf(vec4 a, vec4 b, vec4 c, int k) {
  vec4 four = k < 4 ? a : (k < 8 ? b : c);
  int j = k - (k / 4) * 4;
  return j == 0 ? four.x : j == 1 ? four.y : j == 2 ? four.z : four.w;
}
vec3 inGradient(float share, float row) {
  vec2 size = vec2(textureSize(uGradients, 0));
  vec2 at = vec2((share * (size.x - 1.0) + 0.5) / size.x, (row + 0.5) / size.y);
  return textureLod(uGradients, at, 0.0).rgb;
}
// which : 0 the surface's, 1 that of its own light
vec3 colourOfLooks(int which, vec4 a, vec4 b, vec4 c) {
  vec3 found = vec3(0.0);
  for (int l = 0; l < ${MOST_LOOKS}; l++) {
    if (l >= uLooks) break;
    int k = l * ${COLOURS} + which;
    // What glows in its own colour does not shine in that of the surface.
    if (which == 1 && uLook[l].y < 0.5) k = l * ${COLOURS};
    vec2 by = uColourBy[k];
    vec3 own = by.x < 0.0 ? uLookColour[k] : inGradient(channelOf(a, b, c, int(by.x)), by.y);
#ifdef PRINTED
    if (by.x < -1.5) {
      vec4 shown = printed[int(-by.x) - 2];
      own = mix(own, fromScreen(shown.rgb), shown.a);
    }
#endif
    float weight = l == 0 || uLook[l].x < 0.0 ? 1.0 : channelOf(a, b, c, int(uLook[l].x));
    found = mix(found, own, weight);
  }
  return found;
}
`;

/** Packs the channels of a vertex for the pixels between it and others. */
export const CHANNELS_OUT = /* glsl */ `
varying vec4 vChannelsA;
varying vec4 vChannelsB;
varying vec4 vChannelsC;
varying vec4 vAmountsA;
varying vec4 vAmountsB;
`;

/** The same numbers at a pixel, as the array `c`. */
export const TAKE_CHANNELS = /* glsl */ `
  float c[${MOST_CHANNELS}] = float[${MOST_CHANNELS}](
    vChannelsA.x, vChannelsA.y, vChannelsA.z, vChannelsA.w,
    vChannelsB.x, vChannelsB.y, vChannelsB.z, vChannelsB.w,
    vChannelsC.x, vChannelsC.y, vChannelsC.z, vChannelsC.w);
`;

export const SEND_CHANNELS = /* glsl */ `
  vChannelsA = vec4(c[0], c[1], c[2], c[3]);
  vChannelsB = vec4(c[4], c[5], c[6], c[7]);
  vChannelsC = vec4(c[8], c[9], c[10], c[11]);
  vAmountsA = vec4(a[0], a[1], a[2], a[3]);
  vAmountsB = vec4(a[4], a[5], a[6], a[7]);
`;

function perRange(low: number, high: number): number {
  return Math.abs(high - low) > 1e-12 ? 1 / (high - low) : 0;
}

function showChannels(look: LookHeader, uniforms: LookUniforms) {
  uniforms.uChannels.value = look.channels.length;
  look.channels.forEach((channel, k) => {
    const told = uniforms.uChannel.value[k];
    const more = uniforms.uChannelMore.value[k];
    const kind = KINDS[channel.on];
    switch (channel.on) {
      case "points":
      case "copies":
        told.set(kind, channel.slot, 0, 1);
        return;
      case "slope":
        told.set(kind, 0, channel.low, perRange(channel.low, channel.high));
        more.set(channel.axis[0], channel.axis[1], channel.axis[2], 0);
        return;
      case "print":
        told.set(kind, channel.table, channel.print, 0);
        more.set(channel.below, MODES.indexOf(channel.mode), channel.strength, 0);
        return;
      default:
        told.set(kind, channel.table, channel.low, perRange(channel.low, channel.high));
        more.set(
          channel.below,
          MODES.indexOf(channel.mode),
          channel.strength,
          channel.both ? 1 : 0,
        );
    }
  });
}

/** Takes the looks of a frame. sizeTimes : by what sizes are multiplied */
export function showLooks(look: LookHeader, uniforms: LookUniforms, sizeTimes: number) {
  showChannels(look, uniforms);
  uniforms.uLooks.value = look.looks.length;
  look.looks.forEach((each, l) => {
    uniforms.uLook.value[l].set(each.weight, each.glows_in_own ? 1 : 0);
    each.amounts.forEach(({ low, high, channel }, k) => {
      const times = k === AMOUNT.size ? sizeTimes : 1;
      uniforms.uAmount.value[l * AMOUNTS + k].set(low * times, high * times, channel);
    });
    each.colours.forEach(({ colour, channel, row, print }, k) => {
      uniforms.uLookColour.value[l * COLOURS + k].set(colour);
      uniforms.uColourBy.value[l * COLOURS + k].set(print < 0 ? channel : -2 - print, row);
    });
  });
}

/** Takes rows of numbers as a texture that is looked up between them; the same as long as they are.
 * @param width pixels of a row */
export function showTable(
  uniform: { value: THREE.DataTexture },
  rows: Uint8Array | null,
  width: number,
  channels: 1 | 4,
) {
  if (!rows) return;
  const known = uniform.value.image.data as Uint8Array;
  if (known.length === rows.length && rows.every((v, k) => v === known[k])) return;
  const height = rows.length / (width * channels);
  const format = channels === 4 ? THREE.RGBAFormat : THREE.RedFormat;
  const texture = new THREE.DataTexture(rows.slice(), width, height, format);
  if (channels === 4) texture.colorSpace = THREE.SRGBColorSpace;
  texture.magFilter = texture.minFilter = THREE.LinearFilter;
  texture.unpackAlignment = 1;
  texture.needsUpdate = true;
  uniform.value.dispose();
  uniform.value = texture;
}

/** The most that an amount is anywhere. */
export function mostOf(look: LookHeader, name: keyof typeof AMOUNT): number {
  const k = AMOUNT[name];
  return Math.max(...look.looks.map(({ amounts }) => Math.max(amounts[k].low, amounts[k].high)));
}

/** The least that an amount is anywhere. */
export function leastOf(look: LookHeader, name: keyof typeof AMOUNT): number {
  const k = AMOUNT[name];
  return Math.min(...look.looks.map(({ amounts }) => Math.min(amounts[k].low, amounts[k].high)));
}

/** Shading by a picture of a ball; n, v : the normal, and the way to the eye, as the eye sees them. */
export const LIT_SPHERE = /* glsl */ `
#ifdef LIT_SPHERE
uniform sampler2D uSphere;
vec3 onSphere(vec3 n, vec3 v) {
  vec3 x = normalize(vec3(v.z, 0.0, -v.x));
  vec2 at = vec2(dot(x, n), dot(cross(v, x), n)) * 0.495 + 0.5;
  vec3 c = textureLod(uSphere, at, 0.0).rgb;
  return mix(pow((c + 0.055) / 1.055, vec3(2.4)), c / 12.92, vec3(lessThanEqual(c, vec3(0.04045))));
}
#endif
`;
