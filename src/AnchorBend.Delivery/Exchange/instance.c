/* An instance of the unit, with what versions of the standard have in common. */
#include "@PREFIX@.h"
#include <math.h>
#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

#define INTERVAL @STEP@
/* Communication points may miss a step by rounding. */
#define ROUNDING 1e-6

typedef struct {
    @PREFIX@_state s;
@MEMBERS@
    @PREFIX@_outputs y;
    double origin;
    double now;
    uint64_t made;
    bool begun;
    bool known;
    void *environment;
    void *log;
    char *name;
} instance;

static void reset(instance *c)
{
    memset(&c->s, 0, sizeof c->s);
    memset(&c->y, 0, sizeof c->y);
@RESET@
    c->origin = 0.0;
    c->now = 0.0;
    c->made = 0U;
    c->begun = false;
    c->known = false;
}

static instance *create(const char *name)
{
    instance *c = calloc(1U, sizeof *c);
    const size_t size = (name == NULL) ? 1U : (strlen(name) + 1U);

    if (c != NULL) {
        c->name = calloc(size, 1U);
        if (c->name == NULL) {
            free(c);
            c = NULL;
        }
    }
    if (c != NULL) {
        if (name != NULL) {
            memcpy(c->name, name, size);
        }
        reset(c);
    }
    return c;
}

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

/* What variables of one type have in common: whether there is one of a reference, and its value. */
#define CHOSEN(CASES)                 \
    bool found = true;                \
                                      \
    switch (reference) {              \
    CASES                             \
    default:                          \
        (void)value;                  \
        found = false;                \
        break;                        \
    }
#define GET(...)                      \
    refresh(c);                       \
    {                                 \
        CHOSEN(__VA_ARGS__)           \
        return found;                 \
    }
#define SET(...)                      \
    c->known = false;                 \
    {                                 \
        CHOSEN(__VA_ARGS__)           \
        return found;                 \
    }

static bool get_real(instance *c, uint32_t reference, double *value)
{
    GET(@GETREALS@)
}

static bool set_real(instance *c, uint32_t reference, double value)
{
    SET(@SETREALS@)
}

static bool get_integer(instance *c, uint32_t reference, int32_t *value)
{
    GET(@GETINTEGERS@)
}

static bool set_integer(instance *c, uint32_t reference, int32_t value)
{
    SET(@SETINTEGERS@)
}

static bool get_boolean(instance *c, uint32_t reference, bool *value)
{
    GET(@GETBOOLEANS@)
}

static bool set_boolean(instance *c, uint32_t reference, bool value)
{
    SET(@SETBOOLEANS@)
}

/* What an instance keeps, without its name and its environment. */
static void take_over(instance *to, const instance *from)
{
    const instance own = *to;

    *to = *from;
    to->environment = own.environment;
    to->log = own.log;
    to->name = own.name;
}
