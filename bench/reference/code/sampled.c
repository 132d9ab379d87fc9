#include "sampled.h"

void sampled_start(sampled_state *s)
{
    s->i = 0.0;
}

double sampled_step(sampled_state *s, double r, double y)
{
    const double e = r - y;
    const double wanted = 8.0 * e + s->i;
    double u = wanted;
    if (u > 60.0) {
        u = 60.0;
    }
    if (u < -60.0) {
        u = -60.0;
    }
    s->i += 8.0 * 0.005 / 0.4 * e + (u - wanted) * (0.005 / 0.4);
    return u;
}
