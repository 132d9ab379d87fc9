/* A chain of N masses with springs and dampers, classical Runge-Kutta 4, fixed step; prints seconds per run. */
#include <stdio.h>
#include <stdlib.h>
#include <math.h>
#include <time.h>
#define N 100
static const double k = 40, d = 0.3, m = 1.5;
static double x[2 * N], k1[2 * N], k2[2 * N], k3[2 * N], k4[2 * N], y[2 * N];
static void f(double t, const double *s, double *ds)
{
    double force[N + 1];
    force[0] = k * (sin(t) - s[0]) + d * (cos(t) - s[N]);
    for (int i = 1; i < N; i++) force[i] = k * (s[i - 1] - s[i]) + d * (s[N + i - 1] - s[N + i]);
    force[N] = 0;
    for (int i = 0; i < N; i++) { ds[i] = s[N + i]; ds[N + i] = (force[i] - force[i + 1]) / m; }
}
static double now(void) { struct timespec t; clock_gettime(CLOCK_MONOTONIC, &t); return t.tv_sec + 1e-9 * t.tv_nsec; }
static int less(const void *a, const void *b) { return *(double *)a > *(double *)b ? 1 : -1; }
int main(int argc, char **argv)
{
    double h = 1e-3, took[7];
    int steps = argc > 1 ? atoi(argv[1]) : 20000;
    for (int run = 0; run < 7; run++) {
        for (int i = 0; i < 2 * N; i++) x[i] = 0;
        double start = now();
        for (int n = 0; n < steps; n++) {
            double t = n * h;
            f(t, x, k1);
            for (int i = 0; i < 2 * N; i++) y[i] = x[i] + h / 2 * k1[i];
            f(t + h / 2, y, k2);
            for (int i = 0; i < 2 * N; i++) y[i] = x[i] + h / 2 * k2[i];
            f(t + h / 2, y, k3);
            for (int i = 0; i < 2 * N; i++) y[i] = x[i] + h * k3[i];
            f(t + h, y, k4);
            for (int i = 0; i < 2 * N; i++) x[i] += h / 6 * (k1[i] + 2 * k2[i] + 2 * k3[i] + k4[i]);
        }
        took[run] = now() - start;
    }
    qsort(took, 7, sizeof *took, less);
    printf("%.17g %.17g\n", took[3], x[N - 1]);
    return 0;
}
