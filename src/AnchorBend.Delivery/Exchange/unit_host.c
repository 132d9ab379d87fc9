/* Loads an exchange unit and does with it what it is asked over standard input.
   Usage: unit_host LIBRARY VERSION TOKEN NAME RESOURCES, the version 2 or 3, with x behind it for model exchange. Every answer begins
   with 1, or with 0 and words. */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <math.h>
#include <stdarg.h>
#include <stdbool.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

/* What is written on standard output by the unit itself must not be taken for an answer. */
static FILE *answers;
static char words[1024];
static bool third;
static bool solved_outside;
static void *unit;

typedef struct {
    void (*logger)(void *, const char *, int, const char *, const char *, ...);
    void *(*allocate)(size_t, size_t);
    void (*release)(void *);
    void (*finished)(void *, int);
    void *environment;
} callbacks2;

static void keep(const char *message)
{
    if (message != NULL) {
        snprintf(words, sizeof words, "%s", message);
    }
}

static void log2nd(void *environment, const char *name, int status, const char *category, const char *message, ...)
{
    va_list values;

    (void)environment;
    (void)name;
    (void)category;
    if ((status > 0) && (message != NULL)) {
        va_start(values, message);
        vsnprintf(words, sizeof words, message, values);
        va_end(values);
    }
}

static void log3rd(void *environment, int status, const char *category, const char *message)
{
    (void)environment;
    (void)category;
    if (status > 0) {
        keep(message);
    }
}

static const callbacks2 callbacks = {log2nd, calloc, free, NULL, NULL};

static void *library;

static void *find(const char *name)
{
    char full[128];
    void *found;

    snprintf(full, sizeof full, "fmi%c%s", third ? '3' : '2', name);
    found = dlsym(library, full);
    if (found == NULL) {
        snprintf(words, sizeof words, "it has no function %s", full);
    }
    return found;
}

static bool take(void *to, size_t size)
{
    return (size == 0U) || (fread(to, size, 1U, stdin) == 1U);
}

static void give(const void *from, size_t size)
{
    if (size > 0U) {
        fwrite(from, size, 1U, answers);
    }
}

static void tell(bool good)
{
    const uint8_t well = good ? 1U : 0U;
    const int32_t length = (int32_t)strlen(words);

    give(&well, sizeof well);
    if (!good) {
        give(&length, sizeof length);
        give(words, (size_t)length);
    }
    words[0] = '\0';
}

/* Whether what was asked last cannot be computed with what was given, as with a shorter step it may. */
static bool discarded;

/* Warnings are no errors. */
static bool fine(int status, const char *what)
{
    discarded = status == 2;
    if (status > 1) {
        char told[sizeof words];

        snprintf(told, sizeof told, "%.900s", words);
        snprintf(words, sizeof words, "%s failed with status %d%s%.900s", what, status, told[0] == '\0' ? "" : ": ", told);
    }
    return status <= 1;
}

typedef int (*plain)(void *);
typedef int (*values2)(void *, const unsigned *, size_t, void *);
typedef int (*values3)(void *, const uint32_t *, size_t, void *, size_t);

static bool call(const char *name)
{
    plain f;
    void *found = find(name);

    memcpy(&f, &found, sizeof f);
    return (found != NULL) && fine(f(unit), name);
}

/* Gets or sets one value: r a real number, i an integer, b a truth value; of version 3 also f, a real number of 32 bits, and of integers
   1, 2, 4 and 8 with a sign, A, B, D and H without one. */
static bool value(bool sets, char kind, uint32_t reference, double *number)
{
    char name[40];
    union {
        double r;
        float f;
        int i;
        bool b;
        int8_t a1;
        int16_t a2;
        int32_t a4;
        int64_t a8;
        uint8_t u1;
        uint16_t u2;
        uint32_t u4;
        uint64_t u8;
    } v;
    void *found;
    const char *type = "";

    memset(&v, 0, sizeof v);
    switch (kind) {
    case 'r': type = third ? "Float64" : "Real"; v.r = *number; break;
    case 'f': type = "Float32"; v.f = (float)*number; break;
    case 'i': type = "Integer"; v.i = (int)*number; break;
    case 'b': type = "Boolean"; if (third) { v.b = *number != 0.0; } else { v.i = (*number != 0.0) ? 1 : 0; } break;
    case '1': type = "Int8"; v.a1 = (int8_t)*number; break;
    case '2': type = "Int16"; v.a2 = (int16_t)*number; break;
    case '4': type = "Int32"; v.a4 = (int32_t)*number; break;
    case '8': type = "Int64"; v.a8 = (int64_t)*number; break;
    case 'A': type = "UInt8"; v.u1 = (uint8_t)*number; break;
    case 'B': type = "UInt16"; v.u2 = (uint16_t)*number; break;
    case 'D': type = "UInt32"; v.u4 = (uint32_t)*number; break;
    case 'H': type = "UInt64"; v.u8 = (uint64_t)*number; break;
    default: keep("there is no such type"); return false;
    }
    snprintf(name, sizeof name, "%s%s", sets ? "Set" : "Get", type);
    found = find(name);
    if (found == NULL) {
        return false;
    }
    if (third) {
        values3 f;

        memcpy(&f, &found, sizeof f);
        if (!fine(f(unit, &reference, 1U, &v, 1U), name)) {
            return false;
        }
    } else {
        values2 f;

        memcpy(&f, &found, sizeof f);
        if (!fine(f(unit, &reference, 1U, &v), name)) {
            return false;
        }
    }
    switch (kind) {
    case 'r': *number = v.r; break;
    case 'f': *number = (double)v.f; break;
    case 'i': *number = (double)v.i; break;
    case 'b': *number = third ? (v.b ? 1.0 : 0.0) : ((v.i != 0) ? 1.0 : 0.0); break;
    case '1': *number = (double)v.a1; break;
    case '2': *number = (double)v.a2; break;
    case '4': *number = (double)v.a4; break;
    case '8': *number = (double)v.a8; break;
    case 'A': *number = (double)v.u1; break;
    case 'B': *number = (double)v.u2; break;
    case 'D': *number = (double)v.u4; break;
    default: *number = (double)v.u8; break;
    }
    return true;
}

static bool instantiate(const char *token, const char *name, const char *resources)
{
    if (third && solved_outside) {
        void *(*f)(const char *, const char *, const char *, bool, bool, void *, void (*)(void *, int, const char *, const char *));
        void *found = find("InstantiateModelExchange");

        memcpy(&f, &found, sizeof f);
        if (found != NULL) {
            unit = f(name, token, resources, false, false, NULL, log3rd);
        }
    } else if (third) {
        void *(*f)(const char *, const char *, const char *, bool, bool, bool, bool, const uint32_t *, size_t, void *,
            void (*)(void *, int, const char *, const char *), void *);
        void *found = find("InstantiateCoSimulation");

        memcpy(&f, &found, sizeof f);
        if (found != NULL) {
            unit = f(name, token, resources, false, false, false, false, NULL, 0U, NULL, log3rd, NULL);
        }
    } else {
        void *(*f)(const char *, int, const char *, const char *, const callbacks2 *, int, int);
        void *found = find("Instantiate");

        memcpy(&f, &found, sizeof f);
        if (found != NULL) {
            unit = f(name, solved_outside ? 0 : 1, token, resources, &callbacks, 0, 0);
        }
    }
    if ((unit == NULL) && (words[0] == '\0')) {
        keep("it makes no instance");
    }
    return unit != NULL;
}

static bool enter(double start)
{
    if (third) {
        int (*f)(void *, bool, double, double, bool, double);
        void *found = find("EnterInitializationMode");

        memcpy(&f, &found, sizeof f);
        return (found != NULL) && fine(f(unit, false, 0.0, start, false, 0.0), "EnterInitializationMode");
    } else {
        int (*f)(void *, int, double, double, int, double);
        void *found = find("SetupExperiment");

        memcpy(&f, &found, sizeof f);
        return (found != NULL) && fine(f(unit, 0, 0.0, start, 0, 0.0), "SetupExperiment") && call("EnterInitializationMode");
    }
}

static bool step(double from, double length)
{
    if (third) {
        int (*f)(void *, double, double, bool, bool *, bool *, bool *, double *);
        void *found = find("DoStep");
        bool event = false;
        bool ends = false;
        bool early = false;
        double last = 0.0;

        memcpy(&f, &found, sizeof f);
        if ((found == NULL) || !fine(f(unit, from, length, false, &event, &ends, &early, &last), "DoStep")) {
            return false;
        }
        if (ends) {
            keep("it asks to end the run");
        }
        return !ends;
    } else {
        int (*f)(void *, double, double, int);
        void *found = find("DoStep");

        memcpy(&f, &found, sizeof f);
        return (found != NULL) && fine(f(unit, from, length, 0), "DoStep");
    }
}

/* Vectors of model exchange. */
static bool vector(const char *name, double *values, int32_t count)
{
    int (*f)(void *, double *, size_t);
    void *found;

    if (count == 0) {
        return true;
    }
    found = find(name);
    memcpy(&f, &found, sizeof f);
    return (found != NULL) && fine(f(unit, values, (size_t)count), name);
}

static bool at(double time, double *x, int32_t states)
{
    int (*f)(void *, double);
    void *found = find("SetTime");

    memcpy(&f, &found, sizeof f);
    return (found != NULL) && fine(f(unit, time), "SetTime") && vector("SetContinuousStates", x, states);
}

typedef struct {
    int more;
    int ends;
    int nominals;
    int states;
    int defined;
    double next;
} event2;

/* Decides until nothing more is to be decided, and tells when the next event comes that is known. */
static bool decide(double *next)
{
    void *found = find(third ? "UpdateDiscreteStates" : "NewDiscreteStates");
    bool more = true;
    int n;

    for (n = 0; (n < 1000) && more && (found != NULL); n++) {
        bool ends;

        if (third) {
            int (*f)(void *, bool *, bool *, bool *, bool *, bool *, double *);
            bool nominals = false;
            bool states = false;
            bool defined = false;

            memcpy(&f, &found, sizeof f);
            more = false;
            ends = false;
            if (!fine(f(unit, &more, &ends, &nominals, &states, &defined, next), "UpdateDiscreteStates")) {
                return false;
            }
            *next = defined ? *next : HUGE_VAL;
        } else {
            int (*f)(void *, event2 *);
            event2 event;

            memset(&event, 0, sizeof event);
            memcpy(&f, &found, sizeof f);
            if (!fine(f(unit, &event), "NewDiscreteStates")) {
                return false;
            }
            more = event.more != 0;
            ends = event.ends != 0;
            *next = (event.defined != 0) ? event.next : HUGE_VAL;
        }
        if (ends) {
            keep("it asks to end the run");
            return false;
        }
    }
    if (more && (words[0] == '\0')) {
        keep("its decisions do not settle");
    }
    return !more && call("EnterContinuousTimeMode");
}

/* The columns of a matrix of slopes, one for each number that is changed. */
static bool slopes(const uint32_t *by, int32_t columns, const uint32_t *of, int32_t rows, double *into)
{
    void *found = find("GetDirectionalDerivative");
    int32_t i;

    for (i = 0; i < columns; i++) {
        const double one = 1.0;
        int status;

        if (found == NULL) {
            return false;
        }
        if (third) {
            int (*f)(void *, const uint32_t *, size_t, const uint32_t *, size_t, const double *, size_t, double *, size_t);

            memcpy(&f, &found, sizeof f);
            status = f(unit, of, (size_t)rows, &by[i], 1U, &one, 1U, &into[i * rows], (size_t)rows);
        } else {
            int (*f)(void *, const uint32_t *, size_t, const uint32_t *, size_t, const double *, double *);

            memcpy(&f, &found, sizeof f);
            status = f(unit, of, (size_t)rows, &by[i], 1U, &one, &into[i * rows]);
        }
        if (!fine(status, "GetDirectionalDerivative")) {
            return false;
        }
    }
    return true;
}

/* States by the standard's functions, as bytes. */
static bool save(void **bytes, size_t *size)
{
    void *state = NULL;
    void *found[4];
    int (*get)(void *, void **);
    int (*measure)(void *, void *, size_t *);
    int (*serialize)(void *, void *, void *, size_t);
    int (*release)(void *, void **);
    bool good;

    found[0] = find(third ? "GetFMUState" : "GetFMUstate");
    found[1] = find(third ? "SerializedFMUStateSize" : "SerializedFMUstateSize");
    found[2] = find(third ? "SerializeFMUState" : "SerializeFMUstate");
    found[3] = find(third ? "FreeFMUState" : "FreeFMUstate");
    memcpy(&get, &found[0], sizeof get);
    memcpy(&measure, &found[1], sizeof measure);
    memcpy(&serialize, &found[2], sizeof serialize);
    memcpy(&release, &found[3], sizeof release);
    *size = 0U;
    good = (found[0] != NULL) && (found[1] != NULL) && (found[2] != NULL) && (found[3] != NULL) && fine(get(unit, &state), "GetFMUState");
    if (good) {
        good = fine(measure(unit, state, size), "SerializedFMUStateSize");
        *bytes = good ? malloc(*size + 1U) : NULL;
        good = (*bytes != NULL) && fine(serialize(unit, state, *bytes, *size), "SerializeFMUState");
        release(unit, &state);
    }
    return good;
}

static bool restore(const void *bytes, size_t size)
{
    void *state = NULL;
    void *found[3];
    int (*read)(void *, const void *, size_t, void **);
    int (*set)(void *, void *);
    int (*release)(void *, void **);
    bool good;

    found[0] = find(third ? "DeserializeFMUState" : "DeSerializeFMUstate");
    found[1] = find(third ? "SetFMUState" : "SetFMUstate");
    found[2] = find(third ? "FreeFMUState" : "FreeFMUstate");
    memcpy(&read, &found[0], sizeof read);
    memcpy(&set, &found[1], sizeof set);
    memcpy(&release, &found[2], sizeof release);
    good = (found[0] != NULL) && (found[1] != NULL) && (found[2] != NULL) && fine(read(unit, bytes, size, &state), "DeserializeFMUState");
    if (good) {
        good = fine(set(unit, state), "SetFMUState");
        release(unit, &state);
    }
    return good;
}

/* A list of types and references, then values where they are set; values come back where they are got. */
static bool exchange(bool sets)
{
    int32_t count = 0;
    bool good = true;
    int32_t i;

    if (!take(&count, sizeof count) || (count < 0) || (count > 100000)) {
        exit(2);
    }
    double *numbers = calloc((size_t)count + 1U, sizeof *numbers);
    char *kinds = calloc((size_t)count + 1U, 1U);
    uint32_t *references = calloc((size_t)count + 1U, sizeof *references);
    if ((numbers == NULL) || (kinds == NULL) || (references == NULL)) {
        exit(3);
    }
    for (i = 0; i < count; i++) {
        if (!take(&kinds[i], 1U) || !take(&references[i], sizeof references[i]) || (sets && !take(&numbers[i], sizeof numbers[i]))) {
            exit(2);
        }
    }
    for (i = 0; (i < count) && good; i++) {
        good = value(sets, kinds[i], references[i], &numbers[i]);
    }
    if (!good && !sets && discarded) {
        for (i = 0; i < count; i++) {
            numbers[i] = NAN;
        }
        words[0] = '\0';
        good = true;
    }
    tell(good);
    if (good && !sets) {
        give(numbers, (size_t)count * sizeof *numbers);
    }
    free(numbers);
    free(kinds);
    free(references);
    return good;
}

#define MOST 4000

/* Questions of model exchange. Each begins with its numbers of states and of others. */
static bool flow(int what)
{
    static double x[MOST];
    static double made[MOST];
    static uint32_t list[2 * MOST];
    int32_t sizes[2] = {0, 0};
    double time = 0.0;
    double next = HUGE_VAL;
    bool good;

    if (!take(sizes, sizeof sizes) || (sizes[0] < 0) || (sizes[1] < 0) || (sizes[0] > MOST) || (sizes[1] > MOST)) {
        exit(2);
    }
    switch (what) {
    case 'f':
        /* Slopes and indicators at a time and states. */
        if (!take(&time, sizeof time) || !take(x, (size_t)sizes[0] * sizeof x[0])) {
            exit(2);
        }
        good = at(time, x, sizes[0]) && vector(third ? "GetContinuousStateDerivatives" : "GetDerivatives", x, sizes[0])
            && vector("GetEventIndicators", made, sizes[1]);
        if (!good && discarded) {
            int32_t i;

            for (i = 0; i < sizes[0]; i++) {
                x[i] = NAN;
            }
            for (i = 0; i < sizes[1]; i++) {
                made[i] = NAN;
            }
            words[0] = '\0';
            good = true;
        }
        tell(good);
        if (good) {
            give(x, (size_t)sizes[0] * sizeof x[0]);
            give(made, (size_t)sizes[1] * sizeof made[0]);
        }
        return good;
    case 'E':
        /* An event begins; what is discrete can be given now. */
        if (!take(&time, sizeof time) || !take(x, (size_t)sizes[0] * sizeof x[0])) {
            exit(2);
        }
        good = at(time, x, sizes[0]) && call("EnterEventMode");
        tell(good);
        return good;
    case 'v':
        /* It ends: the next one, and states. */
        good = decide(&next) && vector("GetContinuousStates", x, sizes[0]);
        tell(good);
        if (good) {
            give(&next, sizeof next);
            give(x, (size_t)sizes[0] * sizeof x[0]);
        }
        return good;
    default:
        /* Slopes of values, by references of what they are of and of what is changed. */
        {
            double *matrix = calloc(((size_t)sizes[0] * (size_t)sizes[1]) + 1U, sizeof *matrix);

            if ((matrix == NULL) || !take(list, ((size_t)sizes[0] + (size_t)sizes[1]) * sizeof list[0])) {
                exit(2);
            }
            good = slopes(list, sizes[0], &list[sizes[0]], sizes[1], matrix);
            if (!good && discarded) {
                int32_t i;

                for (i = 0; i < sizes[0] * sizes[1]; i++) {
                    matrix[i] = NAN;
                }
                words[0] = '\0';
                good = true;
            }
            tell(good);
            if (good) {
                give(matrix, (size_t)sizes[0] * (size_t)sizes[1] * sizeof *matrix);
            }
            free(matrix);
        }
        return good;
    }
}

int main(int argc, char **argv)
{
    int what;
    int own;

    if (argc != 6) {
        return 2;
    }
    own = dup(1);
    answers = (own >= 0) ? fdopen(own, "wb") : NULL;
    if ((answers == NULL) || (dup2(2, 1) < 0)) {
        return 3;
    }
    third = argv[2][0] == '3';
    solved_outside = argv[2][1] == 'x';
    library = dlopen(argv[1], RTLD_NOW | RTLD_LOCAL);
    if (library == NULL) {
        keep(dlerror());
    }
    tell((library != NULL) && instantiate(argv[3], argv[4], argv[5]));
    fflush(answers);
    while ((what = getchar()) != EOF) {
        double times[2] = {0.0, 0.0};
        void *bytes = NULL;
        size_t size = 0U;
        int32_t length = 0;
        bool good;

        switch (what) {
        case 'i':
            if (!take(times, sizeof times[0])) {
                return 2;
            }
            tell(enter(times[0]));
            break;
        case 'e':
            tell(call("ExitInitializationMode"));
            break;
        case 's':
            if (!take(times, sizeof times)) {
                return 2;
            }
            tell(step(times[0], times[1]));
            break;
        case 'f':
        case 'E':
        case 'v':
        case 'j':
            (void)flow(what);
            break;
        case 'r':
            tell(call("Reset"));
            break;
        case 'p':
            (void)exchange(true);
            break;
        case 'g':
            (void)exchange(false);
            break;
        case 'k':
            good = save(&bytes, &size);
            tell(good);
            length = (int32_t)size;
            if (good) {
                give(&length, sizeof length);
                give(bytes, size);
            }
            free(bytes);
            break;
        case 'b':
            if (!take(&length, sizeof length) || (length < 0)) {
                return 2;
            }
            bytes = malloc((size_t)length + 1U);
            if ((bytes == NULL) || !take(bytes, (size_t)length)) {
                return 2;
            }
            tell(restore(bytes, (size_t)length));
            free(bytes);
            break;
        default:
            return 2;
        }
        if (fflush(answers) != 0) {
            return 3;
        }
    }
    return 0;
}
