#define INTERVAL @STEP@
/* Communication points may miss a step by rounding. */
#define ROUNDING 1e-6

static void begin(instance *c)
{
    @START@(&c->s@P@);
    c->begun = true;
    c->known = false;
}

/* Outputs are those of the next step with the inputs as they are; what it would keep is given up. */
static void refresh(instance *c)
{
    if (!c->known) {
        @PREFIX@_state kept;

        if (c->begun) {
            kept = c->s;
        } else {
            memset(&kept, 0, sizeof kept);
            @START@(&kept@P@);
        }
        @STEPPED@(&kept@P@@U@, &c->y);
        c->known = true;
    }
}

/* Algebraic loops that were not solved, and steps in which decisions did not settle. */
static uint32_t troubles(const instance *c)
{
    (void)c;
    return @TROUBLES@;
}

/* Goes on to a time, in whole steps. Tells whether all of them were made as they should be. */
static bool advance(instance *c, double to)
{
    const double steps = floor(((to - c->origin) / INTERVAL) + ROUNDING);
    const uint32_t before = troubles(c);

    while ((double)c->made < steps) {
        @STEPPED@(&c->s@P@@U@, &c->y);
        c->made++;
    }
    c->now = to;
    c->known = false;
    return troubles(c) == before;
}

/* Steps count what was not solved, and tell it when they end. */
static bool is_sound(const instance *c)
{
    (void)c;
    return true;
}

