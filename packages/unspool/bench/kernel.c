/*
 * The floor: the frame of a crowd in scalar C. The same pieces, buckets, playheads and steps as the library's own loop,
 * read from a file that crowd.mjs writes, so that both do the same work; it prints nanoseconds for each channel, and
 * the sum of all values, by which crowd.mjs sees that they came out the same.
 *
 *   cc -O2 -o kernel kernel.c && ./kernel work.bin 12
 */
#include <stdio.h>
#include <stdlib.h>
#include <stdint.h>
#include <time.h>

typedef struct {
  int32_t channels, count, pieces, buckets;
  double duration;
  int32_t *first, *bucket;
  double *scales, *knots, *times, *velocities;
  float *slopes;
  uint16_t *table;
} Group;

static void *take(FILE *file, size_t size, size_t count) {
  void *list = malloc(size * count + 8);
  if (fread(list, size, count, file) != count) { fprintf(stderr, "the file is too short\n"); exit(1); }
  return list;
}

static void evaluate(const Group *g, double *out) {
  for (int32_t channel = 0; channel < g->channels; channel++) {
    const double scale = g->scales[channel];
    const double *knots = g->knots + 2 * (size_t)g->first[channel];
    const float *slopes = g->slopes + 3 * (size_t)g->first[channel];
    const uint16_t *table = g->table + g->bucket[channel];
    for (int32_t i = 0; i < g->count; i++) {
      const double time = g->times[i];
      int32_t piece = table[(int32_t)(time * scale)];
      piece += knots[2 * piece + 2] <= time;
      while (knots[2 * piece + 2] <= time) piece++;
      const double u = time - knots[2 * piece];
      const float *c = slopes + 3 * piece;
      out[(size_t)i * g->channels + channel] = knots[2 * piece + 1] + ((c[2] * u + c[1]) * u + c[0]) * u;
    }
  }
}

int main(int argc, char **argv) {
  if (argc < 3) return 2;
  FILE *file = fopen(argv[1], "rb");
  if (!file) return 1;
  const int frames = atoi(argv[2]);
  int32_t *groups = take(file, 4, 1);
  Group *g = malloc(sizeof(Group) * groups[0]);
  size_t values = 0;
  for (int32_t k = 0; k < groups[0]; k++) {
    int32_t *head = take(file, 4, 4);
    g[k].channels = head[0], g[k].count = head[1], g[k].pieces = head[2], g[k].buckets = head[3];
    g[k].duration = *(double *)take(file, 8, 1);
    g[k].first = take(file, 4, head[0]);
    g[k].bucket = take(file, 4, head[0]);
    g[k].scales = take(file, 8, head[0]);
    g[k].knots = take(file, 8, 2 * (size_t)head[2]);
    g[k].times = take(file, 8, head[1]);
    g[k].velocities = take(file, 8, head[1]);
    g[k].slopes = take(file, 4, 3 * (size_t)head[2]);
    g[k].table = take(file, 2, head[3]);
    values += (size_t)head[0] * head[1];
  }
  double *out = malloc(8 * values);
  struct timespec a, b;
  clock_gettime(CLOCK_MONOTONIC, &a);
  for (int frame = 0; frame < frames; frame++) {
    double *at = out;
    for (int32_t k = 0; k < groups[0]; k++) {
      for (int32_t i = 0; i < g[k].count; i++) {
        double time = g[k].times[i] + g[k].velocities[i] / 60;
        if (time >= g[k].duration) time -= g[k].duration;
        g[k].times[i] = time;
      }
      evaluate(&g[k], at);
      at += (size_t)g[k].channels * g[k].count;
    }
  }
  clock_gettime(CLOCK_MONOTONIC, &b);
  double sum = 0;
  for (size_t i = 0; i < values; i++) sum += out[i];
  const double ns = (b.tv_sec - a.tv_sec) * 1e9 + (b.tv_nsec - a.tv_nsec);
  printf("%.4f %.6f\n", ns / ((double)frames * values), sum);
  return 0;
}
