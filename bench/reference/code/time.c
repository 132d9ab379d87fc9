/* Times a written unit beside one written by hand, on the same inputs, in turn; prints both times a step in ns, their ratio, and how many
   outputs differed by more than rounding. CASE chooses the pair. */
#define _POSIX_C_SOURCE 199309L
#include <math.h>
#include <stdio.h>
#include <time.h>
#if CASE == 1
#include "cascade.h"
#include "controller.h"
static controller_state made; static controller_parameters p; static controller_inputs u; static controller_outputs y;
static cascade_state hand; static cascade_gains g;
static void start(void) { controller_defaults(&p); controller_start(&made, &p); g.drum_r = p.drum_r; g.gear = p.gear; g.torque_max = p.torque_max; g.v_max = p.v_max; cascade_start(&hand, p.weight, &g); }
static double of_made(const double *in) { u.wanted = in[0]; u.depth = in[1]; u.speed = in[2]; controller_step(&made, &p, &u, &y); return y.torque; }
static double of_hand(const double *in) { return cascade_step(&hand, &g, in[0], in[1], in[2]); }
#elif CASE == 2
#include "sampled.h"
#include "speed_controller.h"
static speed_controller_state made; static speed_controller_inputs u; static speed_controller_outputs y;
static sampled_state hand;
static void start(void) { speed_controller_start(&made); sampled_start(&hand); }
static double of_made(const double *in) { u.r = in[0]; u.y = in[1]; speed_controller_step(&made, &u, &y); return y.u; }
static double of_hand(const double *in) { return sampled_step(&hand, in[0], in[1]); }
#else
#include "sides_hand.h"
#include "sides.h"
static sides_state made; static sides_inputs u; static sides_outputs y;
static sides_hand hand;
static void start(void) { sides_start(&made); sides_hand_start(&hand); }
static double of_made(const double *in) { u.wanted = in[0] > 0.0; u.blocked = in[1] > 1.5; sides_step(&made, &u, &y); return y.far ? 1.0 : 0.0; }
static double of_hand(const double *in) { return sides_hand_step(&hand, in[0] > 0.0, in[1] > 1.5) ? 1.0 : 0.0; }
#endif
enum { STEPS = 4096, TURNS = 500 };
static double in[STEPS][3];
static double now(void) { struct timespec t; clock_gettime(CLOCK_MONOTONIC, &t); return (double)t.tv_sec + 1e-9 * (double)t.tv_nsec; }
int main(void)
{
    unsigned seed = 1U; double times[2] = { 1e9, 1e9 }; volatile double sink = 0.0; int apart = 0;
    for (int i = 0; i < STEPS; i++) for (int k = 0; k < 3; k++) { seed = seed * 1664525U + 1013904223U; in[i][k] = i % 8 == 0 ? 4.0 * (double)seed / 4294967296.0 - 2.0 : in[i - 1][k]; }
    start();
    for (int i = 0; i < STEPS; i++) if (fabs(of_made(in[i]) - of_hand(in[i])) > 1e-9) apart++;
    for (int turn = 0; turn < TURNS; turn++) {
        double t0 = now(), t1, t2, sum = 0.0;
        for (int i = 0; i < STEPS; i++) sum += of_made(in[i]);
        t1 = now();
        for (int i = 0; i < STEPS; i++) sum += of_hand(in[i]);
        t2 = now(); sink = sum;
        if (t1 - t0 < times[0]) times[0] = t1 - t0;
        if (t2 - t1 < times[1]) times[1] = t2 - t1;
    }
    (void)sink;
    printf("%.2f ns, by hand %.2f ns, ratio %.2f, %d apart", 1e9 * times[0] / STEPS, 1e9 * times[1] / STEPS, times[0] / times[1], apart);
    return apart > 0;
}
