/* The largest integral gain of a PI or PID controller (ideal form, derivative filter Td/10) whose sensitivity stays below a limit, by trying
   gains on dense grids: sensitivities at dense frequencies from the plant's polynomials, stability by the turns of 1 + L along them (the
   plant may have poles at zero, and none further right unless their number is given). Prints seconds, ki, kp and Td.
   usage: gains LIMIT PID(0|1) DELAY UNSTABLE NUMERATOR DENOMINATOR, polynomials as a,b,c in descending powers */
#include <complex.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

#define POINTS 601
static double w[POINTS];
static double complex g[POINTS];
static double limit;
static int zeros, unstable;

static int read_polynomial(char *text, double *c) {
    int n = 0;
    for (char *p = strtok(text, ","); p; p = strtok(NULL, ","))
        c[n++] = atof(p);
    return n;
}

static double complex value(const double *c, int n, double complex s) {
    double complex sum = 0;
    for (int i = 0; i < n; i++)
        sum = sum * s + c[i];
    return sum;
}

static double complex controller(double kp, double ki, double td, double omega) {
    double complex s = I * omega;
    return kp * (1 + (td > 0 ? td * s / (1 + td / 10 * s) : 0)) + ki / s;
}

static int keeps(double kp, double ki, double td) {
    /* Far apart first, so that what does not keep the limit shows soon. */
    for (int k = 0, i = POINTS / 2; k < POINTS; k++, i = (i + 233) % POINTS)
        if (cabs(1 + controller(kp, ki, td, w[i]) * g[i]) < 1 / limit)
            return 0;
    return 1;
}

static int stable(double kp, double ki, double td) {
    double change = 0;
    double complex before = 1 + controller(kp, ki, td, w[0]) * g[0];
    for (int i = 1; i < POINTS; i++) {
        double complex now = 1 + controller(kp, ki, td, w[i]) * g[i];
        change += carg(now / before);
        before = now;
    }
    /* From low to high it turns by half of pi for each pole at zero and by pi for each on the right. */
    return fabs((zeros + 1) / 2.0 + unstable - change / M_PI) < 0.3;
}

int main(int argc, char **argv) {
    double numerator[20], denominator[20];
    limit = atof(argv[1]);
    int pid = atoi(argv[2]);
    double delay = atof(argv[3]);
    unstable = atoi(argv[4]);
    int n = read_polynomial(argv[5], numerator), m = read_polynomial(argv[6], denominator);
    while (m > 1 && denominator[m - 1 - zeros] == 0)
        zeros++;
    for (int i = 0; i < POINTS; i++) {
        w[i] = 1e-3 * pow(10, 6.0 * i / (POINTS - 1));
        double complex s = I * w[i];
        g[i] = value(numerator, n, s) / value(denominator, m, s) * cexp(-s * delay);
    }
    clock_t begun = clock();
    double best = 0, best_kp = 0, best_td = 0;
    double centre_kp = 0, centre_td = 0, wide = log(1000), far = log(60);
    for (int round = 0; round < 5; round++) {
        int across = round == 0 ? 60 : 16, along = pid ? (round == 0 ? 24 : 16) : 0;
        double step = round == 0 ? 1.05 : round == 1 ? 1.01 : 1.001;
        double kp0 = centre_kp, td0 = centre_td;
        for (int i = -across / 2; i <= across / 2; i++)
            for (int j = -along / 2; j <= along / 2; j++) {
                double kp = exp(kp0 + 2 * wide * i / across), td = pid ? exp(td0 + 2 * far * j / along) : 0;
                double last = 0;
                int missed = 0;
                for (double ki = fmax(best, 1e-4) * step; ki < 1e4 && missed < 25; ki *= step) {
                    if (keeps(kp, ki, td))
                        last = ki, missed = 0;
                    else
                        missed++;
                }
                if (last > 0 && stable(kp, last, td)) {
                    best = last, best_kp = kp, best_td = td;
                    centre_kp = log(kp), centre_td = pid ? log(td) : 0;
                }
            }
        wide /= 6, far /= 6;
    }
    printf("%g %.10g %.10g %.10g\n", (double)(clock() - begun) / CLOCKS_PER_SEC, best, best_kp, best_td);
    return 0;
}
