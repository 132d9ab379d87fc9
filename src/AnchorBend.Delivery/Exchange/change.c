
/* The size that a number is expected to have. */
static double size_of(uint32_t reference, double value)
{
    double nominals[STATES + 1U];

    nominals[STATES] = 1.0;
    get_nominals(nominals);
    return fmax(((reference >= FIRST) && ((reference - FIRST) < (STATES + 1U))) ? nominals[reference - FIRST] : 1.0, fabs(value));
}

/* How values change with others: central differences, whose error is about 1e-10 of a smooth value (Press and others: Numerical Recipes,
   section 5.7). Decisions stay as they are. Tells whether the values are there; where loops are not solved they are not. */
static bool change(const instance *c, const uint32_t unknowns[], size_t unknown_count, const uint32_t knowns[], size_t known_count,
    const double by[], double values[])
{
    instance *sides = calloc(2U, sizeof *sides);
    double width = INFINITY;
    bool good = sides != NULL;
    size_t i;
    int side;

    if (good) {
        sides[0] = *c;
        sides[1] = *c;
    }
    for (i = 0U; (i < known_count) && good; i++) {
        double value = 0.0;

        good = get_real(&sides[0], knowns[i], &value);
        if (good && (by[i] != 0.0)) {
            width = fmin(width, cbrt(DBL_EPSILON) * size_of(knowns[i], value) / fabs(by[i]));
        }
    }
    if (isinf(width)) {
        width = 1.0;
    }
    for (side = 0; (side < 2) && good; side++) {
        for (i = 0U; (i < known_count) && good; i++) {
            double value = 0.0;

            good = get_real(&sides[side], knowns[i], &value)
                && set_real(&sides[side], knowns[i], value + (((side == 0) ? width : -width) * by[i]));
        }
        good = good && is_well(&sides[side]);
    }
    for (i = 0U; (i < unknown_count) && good; i++) {
        double up = 0.0;
        double down = 0.0;

        good = get_real(&sides[0], unknowns[i], &up) && get_real(&sides[1], unknowns[i], &down);
        values[i] = (up - down) / (2.0 * width);
    }
    free(sides);
    return good;
}
