#include "sides_hand.h"

void sides_hand_start(sides_hand *s)
{
    s->started = false;
    s->far_side = false;
    s->count = 0;
}

bool sides_hand_step(sides_hand *s, bool wanted, bool blocked)
{
    if (!s->started) {
        s->started = true;
    } else if (!s->far_side) {
        if (s->count >= 5 && !blocked) {
            s->far_side = true;
            s->count = 0;
        }
    } else if (blocked || s->count >= 5) {
        s->far_side = false;
        s->count = 0;
    } else {
        /* stays */
    }
    if (wanted != s->far_side) {
        s->count++;
    } else {
        s->count = 0;
    }
    return s->far_side;
}
