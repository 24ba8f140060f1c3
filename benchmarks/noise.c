/* Reference for the noise kernel: the same improved gradient noise with the same hash, the same
 * wrap along one axis and the same four octaves, as plain C that the compiler may turn into SIMD.
 * Built by `zygomorph bench` with gcc -O3 -march=native -ffast-math -fopenmp. */
#include <stdint.h>
#include <string.h>

#define BLOCK 1024

static inline float from_bits(uint32_t b) { float f; memcpy(&f, &b, 4); return f; }
static inline uint32_t to_bits(float f) { uint32_t b; memcpy(&b, &f, 4); return b; }

static inline uint32_t cell_hash(int32_t x, int32_t y, int32_t z, uint32_t seed) {
    uint32_t h = (uint32_t)x * 0x9E3779B1u;
    h ^= (uint32_t)y * 0x85EBCA77u;
    h ^= (uint32_t)z * 0xC2B2AE3Du + seed;
    h ^= h >> 15;
    return h * 0x7FEB352Du;
}

static inline float edge(uint32_t h, float x, float y, float z) {
    float u = (int32_t)h >= 0 ? x : y;
    float w = (h & 0xD0000000u) == 0xC0000000u ? x : z;
    float v = (h >> 30) == 0 ? y : w;
    return from_bits(to_bits(u) ^ ((h << 3) & 0x80000000u))
         + from_bits(to_bits(v) ^ ((h << 2) & 0x80000000u));
}

static inline float fade(float t) { return t * t * t * (t * (t * 6.0f - 15.0f) + 10.0f); }
static inline float lerp(float a, float b, float t) { return a + t * (b - a); }
static inline int32_t floor_int(float v) { int32_t i = (int32_t)v; return i - (v < (float)i); }

static inline float noise(float px, float py, float pz, float span, float per_span, uint32_t seed) {
    int32_t ix = floor_int(px), iy = floor_int(py), iz = floor_int(pz);
    float cell = (float)ix;
    float turns = (float)floor_int((cell + 0.5f) * per_span);
    float start = cell - span * turns;
    float end = start + 1.0f < span ? start + 1.0f : 0.0f;
    int32_t a = (int32_t)start, b = (int32_t)end, c = iy + 1, d = iz + 1;
    float x = px - cell, y = py - (float)iy, z = pz - (float)iz;
    float u = fade(x), v = fade(y), w = fade(z);
    float n00 = lerp(edge(cell_hash(a, iy, iz, seed), x, y, z),
                     edge(cell_hash(b, iy, iz, seed), x - 1, y, z), u);
    float n10 = lerp(edge(cell_hash(a, c, iz, seed), x, y - 1, z),
                     edge(cell_hash(b, c, iz, seed), x - 1, y - 1, z), u);
    float n01 = lerp(edge(cell_hash(a, iy, d, seed), x, y, z - 1),
                     edge(cell_hash(b, iy, d, seed), x - 1, y, z - 1), u);
    float n11 = lerp(edge(cell_hash(a, c, d, seed), x, y - 1, z - 1),
                     edge(cell_hash(b, c, d, seed), x - 1, y - 1, z - 1), u);
    return lerp(lerp(n00, n10, v), lerp(n01, n11, v), w);
}

void fractal(const float *restrict points, long n, int octaves, const float *frequency,
             const float *span, const float *share, const uint32_t *seed, const float *offset,
             float *restrict out) {
#pragma omp parallel for schedule(static)
    for (long lo = 0; lo < n; lo += BLOCK) {
        int m = n - lo < BLOCK ? (int)(n - lo) : BLOCK;
        float x[BLOCK], y[BLOCK], z[BLOCK], total[BLOCK];
        for (int i = 0; i < m; i++) {
            /* The wrapping axis comes first. */
            x[i] = points[3 * (lo + i) + 1];
            y[i] = points[3 * (lo + i) + 2];
            z[i] = points[3 * (lo + i)];
            total[i] = 0;
        }
        for (int o = 0; o < octaves; o++) {
            float f = frequency[o], s = span[o], per = 1.0f / s, a = share[o];
            float ox = offset[3 * o], oy = offset[3 * o + 1], oz = offset[3 * o + 2];
            uint32_t key = seed[o];
            for (int i = 0; i < m; i++)
                total[i] += a * noise(x[i] * f + ox, y[i] * f + oy, z[i] * f + oz, s, per, key);
        }
        for (int i = 0; i < m; i++) out[lo + i] = total[i];
    }
}
