/* Integrates an exchange unit for model exchange: Runge and Kutta's method in steps of equal length, events found by halving.
   Usage: solver LIBRARY TOKEN STEP COUNT OUTPUTS INPUTS, outputs as references and inputs as REFERENCE=VALUE with commas between them,
   - for none. Writes time and outputs at the end of every step to standard output, at events on both sides, and then the
   directional derivatives of all slopes by the first state to standard error. */
#include <dlfcn.h>
#include <math.h>
#include <stdbool.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define MOST 200

typedef struct {
    int more, ends, nominals, states, defined;
    double next;
} info2;

static void *library, *unit;
static size_t states, indicators;
static uint32_t slopes[MOST], references[MOST], outputs[MOST];
static size_t output_count;
static double next = INFINITY;

static void *find(const char *name)
{
    void *found = dlsym(library, name);

    if (found == NULL) {
        fprintf(stderr, "no %s\n", name);
        exit(2);
    }
    return found;
}

#ifdef THIRD
#define F(NAME) "fmi3" NAME
#else
#define F(NAME) "fmi2" NAME
#endif

static void well(int status, const char *what)
{
    if (status != 0) {
        fprintf(stderr, "%s: %d\n", what, status);
        exit(3);
    }
}

static void plain(const char *name)
{
    well(((int (*)(void *))find(name))(unit), name);
}

static void vector(const char *name, double *values, size_t count)
{
    well(((int (*)(void *, double *, size_t))find(name))(unit, values, count), name);
}

static void at(double time, double *x)
{
    well(((int (*)(void *, double))find(F("SetTime")))(unit, time), "SetTime");
    if (states > 0) {
        vector(F("SetContinuousStates"), x, states);
    }
}

static void slope(double time, double *x, double *dx)
{
    at(time, x);
#ifdef THIRD
    vector("fmi3GetContinuousStateDerivatives", dx, states);
#else
    vector("fmi2GetDerivatives", dx, states);
#endif
}

static double real(uint32_t reference)
{
    double value = 0.0;

#ifdef THIRD
    well(((int (*)(void *, const uint32_t *, size_t, double *, size_t))find("fmi3GetFloat64"))(unit, &reference, 1, &value, 1), "Get");
#else
    well(((int (*)(void *, const uint32_t *, size_t, double *))find("fmi2GetReal"))(unit, &reference, 1, &value), "Get");
#endif
    return value;
}

static void set(uint32_t reference, double value)
{
#ifdef THIRD
    well(((int (*)(void *, const uint32_t *, size_t, double *, size_t))find("fmi3SetFloat64"))(unit, &reference, 1, &value, 1), "Set");
#else
    well(((int (*)(void *, const uint32_t *, size_t, double *))find("fmi2SetReal"))(unit, &reference, 1, &value), "Set");
#endif
}

static void write_row(double time)
{
    printf("%.17g", time);
    for (size_t i = 0; i < output_count; i++) {
        printf(" %.17g", real(outputs[i]));
    }
    printf("\n");
}

static void event(bool enters)
{
    bool more = true;

    if (enters) {
        plain(F("EnterEventMode"));
    }
    while (more) {
#ifdef THIRD
        bool need = false, ends = false, nominals = false, moved = false, defined = false;
        double when = 0.0;

        well(((int (*)(void *, bool *, bool *, bool *, bool *, bool *, double *))find("fmi3UpdateDiscreteStates"))(
            unit, &need, &ends, &nominals, &moved, &defined, &when), "UpdateDiscreteStates");
        more = need;
        next = defined ? when : INFINITY;
#else
        info2 info;

        memset(&info, 0, sizeof info);
        well(((int (*)(void *, info2 *))find("fmi2NewDiscreteStates"))(unit, &info), "NewDiscreteStates");
        more = info.more != 0;
        next = info.defined ? info.next : INFINITY;
#endif
    }
    plain(F("EnterContinuousTimeMode"));
}

static void stepped(double time, double h, const double *x, double *to)
{
    double k[4][MOST], y[MOST];
    const double part[4] = {0.0, 0.5, 0.5, 1.0};

    for (int stage = 0; stage < 4; stage++) {
        for (size_t i = 0; i < states; i++) {
            y[i] = x[i] + ((stage == 0) ? 0.0 : (h * part[stage] * k[stage - 1][i]));
        }
        slope(time + (h * part[stage]), y, k[stage]);
    }
    for (size_t i = 0; i < states; i++) {
        to[i] = x[i] + (h / 6.0 * (k[0][i] + (2.0 * (k[1][i] + k[2][i])) + k[3][i]));
    }
    at(time + h, to);
}

static bool crosses(const double *before, const double *after)
{
    for (size_t i = 0; i < indicators; i++) {
        if ((before[i] > 0.0) != (after[i] > 0.0)) {
            return true;
        }
    }
    return false;
}

int main(int count, char **words)
{
    double x[MOST] = {0.0}, y[MOST] = {0.0}, z[MOST] = {0.0}, after[MOST] = {0.0};
    double time = 0.0;

    if (count != 7) {
        return 2;
    }
    library = dlopen(words[1], RTLD_NOW | RTLD_LOCAL);
    if (library == NULL) {
        fprintf(stderr, "%s\n", dlerror());
        return 2;
    }
    const double step = atof(words[3]);
    const long steps = atol(words[4]);
    for (char *word = strtok(words[5], ","); word != NULL; word = strtok(NULL, ",")) {
        outputs[output_count++] = (uint32_t)strtoul(word, NULL, 10);
    }
#ifdef THIRD
    unit = ((void *(*)(const char *, const char *, const char *, bool, bool, void *, void *))find("fmi3InstantiateModelExchange"))(
        "unit", words[2], NULL, false, false, NULL, NULL);
#else
    static const void *callbacks[5];

    unit = ((void *(*)(const char *, int, const char *, const char *, const void *, int, int))find("fmi2Instantiate"))(
        "unit", 0, words[2], NULL, callbacks, 0, 0);
#endif
    if (unit == NULL) {
        fprintf(stderr, "no instance\n");
        return 2;
    }
    if (strcmp(words[6], "-") != 0) {
        for (char *word = strtok(words[6], ","); word != NULL; word = strtok(NULL, ",")) {
            set((uint32_t)strtoul(word, NULL, 10), atof(strchr(word, '=') + 1));
        }
    }
    /* The numbers of states and indicators come by the environment: a C program need not read XML. */
    states = (size_t)atol(getenv("STATES"));
    indicators = (size_t)atol(getenv("INDICATORS"));
    for (size_t i = 0; i < states; i++) {
        references[i] = (uint32_t)(atol(getenv("FIRST")) + (long)i);
        slopes[i] = (uint32_t)(references[i] + states);
    }
#ifdef THIRD
    well(((int (*)(void *, bool, double, double, bool, double))find("fmi3EnterInitializationMode"))(unit, false, 0.0, 0.0, false, 0.0), "Enter");
#else
    well(((int (*)(void *, int, double, double, int, double))find("fmi2SetupExperiment"))(unit, 0, 0.0, 0.0, 0, 0.0), "Setup");
    plain("fmi2EnterInitializationMode");
#endif
    plain(F("ExitInitializationMode"));
    event(false);
    if (states > 0) {
        vector(F("GetContinuousStates"), x, states);
    }
    write_row(0.0);
    for (long n = 1; n <= steps; n++) {
        const double end = step * (double)n;

        while (time < end) {
            const double to = fmin(end, next);
            double h = to - time;

            vector(F("GetEventIndicators"), z, indicators);
            stepped(time, h, x, y);
            vector(F("GetEventIndicators"), after, indicators);
            bool crossed = crosses(z, after);
            if (crossed) {
                double low = 0.0, high = h;

                for (int i = 0; (i < 60) && (high - low > 1e-13); i++) {
                    const double middle = 0.5 * (low + high);

                    stepped(time, middle, x, y);
                    vector(F("GetEventIndicators"), after, indicators);
                    if (crosses(z, after)) {
                        high = middle;
                    } else {
                        low = middle;
                    }
                }
                h = high;
                stepped(time, h, x, y);
            }
            time = (h == to - time) ? to : (time + h);
            memcpy(x, y, sizeof x);
            at(time, x);
            if (crossed || (time >= next)) {
                write_row(time);
                event(true);
                if (states > 0) {
                    vector(F("GetContinuousStates"), x, states);
                }
                write_row(time);
            }
        }
        at(time, x);
        write_row(time);
    }
    for (size_t i = 0; i < states; i++) {
        double by = 1.0, value = 0.0;
#ifdef THIRD
        well(((int (*)(void *, const uint32_t *, size_t, const uint32_t *, size_t, const double *, size_t, double *, size_t))find(
            "fmi3GetDirectionalDerivative"))(unit, &slopes[i], 1, &references[0], 1, &by, 1, &value, 1), "derivative");
#else
        well(((int (*)(void *, const uint32_t *, size_t, const uint32_t *, size_t, const double *, double *))find(
            "fmi2GetDirectionalDerivative"))(unit, &slopes[i], 1, &references[0], 1, &by, &value), "derivative");
#endif
        fprintf(stderr, "%.17g\n", value);
    }
    return 0;
}
