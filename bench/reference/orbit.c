/* Arenstorf's orbit by Dormand-Prince 5(4) with proportional-integral step control, written by hand; prints seconds per run. */
#include <stdio.h>
#include <stdlib.h>
#include <math.h>
#include <time.h>
#define N 4
static void f(double t, const double *x, double *dx)
{
    const double mu = 0.012277471, rest = 1 - mu;
    double a = (x[0] + mu) * (x[0] + mu) + x[1] * x[1], b = (x[0] - rest) * (x[0] - rest) + x[1] * x[1];
    double d1 = a * sqrt(a), d2 = b * sqrt(b);
    (void)t;
    dx[0] = x[2]; dx[1] = x[3];
    dx[2] = x[0] + 2 * x[3] - rest * (x[0] + mu) / d1 - mu * (x[0] - rest) / d2;
    dx[3] = x[1] - 2 * x[2] - rest * x[1] / d1 - mu * x[1] / d2;
}
static const double A[7][6] = {{0}, {0.2}, {3.0 / 40, 9.0 / 40}, {44.0 / 45, -56.0 / 15, 32.0 / 9},
    {19372.0 / 6561, -25360.0 / 2187, 64448.0 / 6561, -212.0 / 729}, {9017.0 / 3168, -355.0 / 33, 46732.0 / 5247, 49.0 / 176, -5103.0 / 18656},
    {35.0 / 384, 0, 500.0 / 1113, 125.0 / 192, -2187.0 / 6784, 11.0 / 84}};
static const double C[7] = {0, 0.2, 0.3, 0.8, 8.0 / 9, 1, 1};
static const double E[7] = {71.0 / 57600, 0, -71.0 / 16695, 71.0 / 1920, -17253.0 / 339200, 22.0 / 525, -1.0 / 40};
static long steps;
static void integrate(double *x, double end, double tol)
{
    double k[7][N], y[N], t = 0, h = 1e-4, old = 1e-4;
    int rejected = 0;
    f(t, x, k[0]);
    while (t < end) {
        if (t + h > end) h = end - t;
        for (int s = 1; s < 7; s++) {
            for (int i = 0; i < N; i++) { double sum = 0; for (int j = 0; j < s; j++) sum += A[s][j] * k[j][i]; y[i] = x[i] + h * sum; }
            f(t + C[s] * h, y, k[s]);
        }
        double err = 0;
        for (int i = 0; i < N; i++) {
            double e = 0;
            for (int j = 0; j < 7; j++) e += E[j] * k[j][i];
            double sc = tol + tol * fmax(fabs(x[i]), fabs(y[i]));
            err += (h * e / sc) * (h * e / sc);
        }
        err = sqrt(err / N);
        if (err <= 1) {
            double factor = pow(err, 0.17) / pow(old, 0.04) / 0.9;
            if (factor < 0.1) factor = 0.1;
            if (factor > 5) factor = 5;
            double next = h / factor;
            if (rejected && next > h) next = h;
            t += h; old = fmax(err, 1e-4); rejected = 0; steps++;
            for (int i = 0; i < N; i++) { x[i] = y[i]; k[0][i] = k[6][i]; }
            h = next;
        } else { h /= fmin(5, pow(err, 0.17) / 0.9); rejected = 1; }
    }
}
static double now(void) { struct timespec t; clock_gettime(CLOCK_MONOTONIC, &t); return t.tv_sec + 1e-9 * t.tv_nsec; }
static int less(const void *a, const void *b) { return *(double *)a > *(double *)b ? 1 : -1; }
int main(int argc, char **argv)
{
    double tol = argc > 1 ? atof(argv[1]) : 1e-9, took[7], x[N];
    for (int run = 0; run < 7; run++) {
        double start = now();
        for (int r = 0; r < 200; r++) { x[0] = 0.994; x[1] = 0; x[2] = 0; x[3] = -2.00158510637908252240537862224; integrate(x, 17.0652165601579625588917206249, tol); }
        took[run] = (now() - start) / 200;
    }
    qsort(took, 7, sizeof *took, less);
    printf("%.17g %.17g\n", took[3], hypot(x[0] - 0.994, x[1]));
    return 0;
}
