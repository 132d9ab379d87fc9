/* An instance of the unit, with what versions of the standard have in common. */
#include "@PREFIX@.h"
#include <math.h>
#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

typedef struct {
    @PREFIX@_state s;
@SAFE@
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

