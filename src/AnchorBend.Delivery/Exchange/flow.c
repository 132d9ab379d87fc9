#include <float.h>

#define STATES @STATES@U
#define INDICATORS @INDICATORS@U

static void begin(instance *c)
{
    memset(&c->s, 0, sizeof c->s);
    @START@(&c->s@P@);
    @PREFIX@_event(&c->s@P@@U@, c->now, true);
    c->begun = true;
    c->known = false;
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

static bool is_well(instance *c)
{
    const uint32_t before = troubles(c);

    refresh(c);
    return troubles(c) == before;
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
    return troubles(c) == known;
}

static double next_event(const instance *c)
{
    @PREFIX@_state s = c->s;

    return @PREFIX@_next(&s@P@@U@, c->now);
}
