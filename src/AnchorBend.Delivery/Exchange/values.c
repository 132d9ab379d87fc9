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
