#include <float.h>

#define STATES @STATES@U
#define INDICATORS @INDICATORS@U
/* The reference of the first state. */
#define FIRST @FIRST@U

static void begin(instance *c)
{
    memset(&c->s, 0, sizeof c->s);
    @START@(&c->s@P@);
    @PREFIX@_event(&c->s@P@@U@, c->now, true);
    c->begun = true;
    c->known = false;
    c->safe = c->s;
}

/* Slopes, outputs and indicators at the time, the states and the inputs as they are; before the start as it would begin now. */
static void refresh(instance *c)
{
    if (!c->known) {
        if (!c->begun) {
            begin(c);
            c->begun = false;
        }
        @PREFIX@_flow(&c->s@P@@U@, c->now@DX@, &c->y@Z@);
        c->known = true;
    }
}

/* Algebraic loops that were not solved, and events at which decisions did not settle. */
static uint32_t troubles(const instance *c)
{
    (void)c;
    return @TROUBLES@;
}

/* Values in the order of the states; arrays of none have a place that nobody reads. */
static void get_states(const instance *c, double x[])
{
    (void)c;
    (void)x;
@GETSTATES@
}

static void set_states(instance *c, const double x[])
{
    (void)x;
    c->known = false;
@SETSTATES@
}

static void get_slopes(const instance *c, double dx[])
{
    (void)c;
    (void)dx;
@GETSLOPES@
}

static void get_nominals(double x[])
{
    (void)x;
@GETNOMINALS@
}

static bool is_well_once(instance *c)
{
    const uint32_t before = troubles(c);
    double dx[STATES + 1U];
    bool good;
    size_t i;

    refresh(c);
    good = (troubles(c) == before);
    dx[STATES] = 0.0;
    get_slopes(c, dx);
    for (i = 0U; i <= STATES; i++) {
        good = good && isfinite(dx[i]);
    }
    return good;
}

/* Looks at the values. Where a loop was not solved, or a slope is no number, it begins once more from where steps or events ended last:
   what was tried since may have led far away. */
static bool is_well(instance *c)
{
    const @PREFIX@_state kept = c->s;
    bool good = is_well_once(c);

    if (!good && c->begun) {
        double x[STATES + 1U];

        x[STATES] = 0.0;
        get_states(c, x);
        c->s = c->safe;
        set_states(c, x);
        good = is_well_once(c);
        if (!good) {
            c->s = kept;
            c->known = false;
        }
    }
    return good;
}

/* Whether values can be handed on as they are. */
static bool is_sound(instance *c)
{
    return is_well(c);
}

/* The point is one that whoever integrates goes on from. */
static void accept(instance *c)
{
    if (c->begun && is_well(c)) {
        c->safe = c->s;
    }
}

/* An event: clocks tick and decisions are made. Tells whether it went well, and whether states were set anew. */
static bool decide(instance *c, bool *moved)
{
    double before[STATES + 1U];
    double after[STATES + 1U];
    const uint32_t known = troubles(c);

    before[STATES] = 0.0;
    after[STATES] = 0.0;
    get_states(c, before);
    @PREFIX@_event(&c->s@P@@U@, c->now, false);
    get_states(c, after);
    c->known = false;
    *moved = (memcmp(before, after, sizeof before) != 0);
    c->safe = c->s;
    return troubles(c) == known;
}

static double next_event(const instance *c)
{
    @PREFIX@_state s = c->s;

    return @PREFIX@_next(&s@P@@U@, c->now);
}
