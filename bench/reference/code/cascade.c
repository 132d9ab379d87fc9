#include "cascade.h"

static const double H = 0.001;

static double clipped(double v, double most)
{
    if (v > most) {
        return most;
    }
    if (v < -most) {
        return -most;
    }
    return v;
}

void cascade_start(cascade_state *s, double weight, const cascade_gains *g)
{
    s->depth_i = 0.0;
    s->speed_i = -(weight * g->drum_r / g->gear);
}

double cascade_step(cascade_state *s, const cascade_gains *g, double wanted, double depth, double speed)
{
    const double e = wanted - depth;
    const double v = 1.3 * e + s->depth_i;
    const double payout = clipped(v, g->v_max);
    const double motor = g->gear / g->drum_r * payout;
    const double es = motor - speed;
    const double w = 0.35 * es + s->speed_i;
    const double torque = clipped(w, g->torque_max);
    s->depth_i += H * (1.3 * e / 1.0 + (payout - v) / 1.0);
    s->speed_i += H * (0.35 * es / 0.4 + (torque - w) / 0.1);
    return torque;
}
