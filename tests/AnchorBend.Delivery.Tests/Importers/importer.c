/* A small importer of exchange units: knows the standard's functions and nothing of who made the unit.
   importer LIBRARY TOKEN STEP STEPS INPUTS OUTPUTS FROM TO: references of inputs and outputs with commas; rows of inputs from one
   file, rows of outputs at each communication point to another. Half way it saves the state, goes on, and comes back to it. */
#include <dlfcn.h>
#include <stdbool.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define MOST 64

#ifdef THIRD
typedef uint32_t reference;
#define TAKE(type, name) type name = (type)dlsym(library, "fmi3" #name)
typedef void *(*create)(const char *, const char *, const char *, bool, bool, bool, bool, const reference *, size_t, void *, void *,
    void *);
typedef int (*begin)(void *, bool, double, double, bool, double);
typedef int (*number)(void *, const reference *, size_t, double *, size_t);
typedef int (*go)(void *, double, double, bool, bool *, bool *, bool *, double *);
#else
typedef unsigned int reference;
#define TAKE(type, name) type name = (type)dlsym(library, "fmi2" #name)
typedef void *(*create)(const char *, int, const char *, const char *, const void *, int, int);
typedef int (*begin)(void *, int, double, double, int, double);
typedef int (*number)(void *, const reference *, size_t, double *);
typedef int (*go)(void *, double, double, int);
#endif
typedef int (*plain)(void *);
typedef int (*saved)(void *, void **);
typedef int (*restored)(void *, void *);
typedef int (*sized)(void *, void *, size_t *);
typedef int (*packed)(void *, void *, char *, size_t);
typedef int (*unpacked)(void *, const char *, size_t, void **);

static size_t list(char *text, reference *into)
{
    size_t n = 0;
    for (char *at = strtok(text, ","); at != NULL && n < MOST; at = strtok(NULL, ","))
        into[n++] = (reference)strtoul(at, NULL, 10);
    return n;
}

#define CHECK(what) do { if (!(what)) { fprintf(stderr, "line %d: %s\n", __LINE__, #what); return 1; } } while (0)

int main(int argc, char **argv)
{
    CHECK(argc == 9);
    void *library = dlopen(argv[1], RTLD_NOW | RTLD_LOCAL);
    CHECK(library != NULL);
    const double step = strtod(argv[3], NULL);
    const long steps = strtol(argv[4], NULL, 10);
    reference ins[MOST], outs[MOST];
    const size_t nin = list(argv[5], ins), nout = list(argv[6], outs);
    FILE *from = fopen(argv[7], "rb"), *to = fopen(argv[8], "wb");
    CHECK(from != NULL && to != NULL);
    TAKE(begin, EnterInitializationMode);
    TAKE(plain, ExitInitializationMode);
    TAKE(plain, Terminate);
    TAKE(plain, Reset);
    TAKE(go, DoStep);
    double in[MOST], out[MOST], again[MOST];
#ifdef THIRD
    TAKE(create, InstantiateCoSimulation);
    TAKE(number, SetFloat64);
    TAKE(number, GetFloat64);
    TAKE(saved, GetFMUState);
    TAKE(restored, SetFMUState);
    TAKE(saved, FreeFMUState);
    TAKE(sized, SerializedFMUStateSize);
    TAKE(packed, SerializeFMUState);
    TAKE(unpacked, DeserializeFMUState);
    bool events, ends, early;
    double reached;
    CHECK(InstantiateCoSimulation("unit", "{another}", NULL, false, false, false, false, NULL, 0, NULL, NULL, NULL) == NULL);
    void *unit = InstantiateCoSimulation("unit", argv[2], NULL, false, false, false, false, NULL, 0, NULL, NULL, NULL);
    CHECK(unit != NULL);
    CHECK(EnterInitializationMode(unit, false, 0, 0, true, step * (double)steps) == 0);
#define SET SetFloat64(unit, ins, nin, in, nin)
#define GET(into) GetFloat64(unit, outs, nout, into, nout)
#define STEP DoStep(unit, step * (double)i, step, false, &events, &ends, &early, &reached)
#define STRANGE GetFloat64(unit, &(reference){ 4000000u }, 1, again, 1)
#else
    TAKE(create, Instantiate);
    TAKE(number, SetReal);
    TAKE(number, GetReal);
    TAKE(saved, GetFMUstate);
    TAKE(restored, SetFMUstate);
    TAKE(saved, FreeFMUstate);
    TAKE(sized, SerializedFMUstateSize);
    TAKE(packed, SerializeFMUstate);
    TAKE(unpacked, DeSerializeFMUstate);
    TAKE(begin, SetupExperiment);
    CHECK(Instantiate("unit", 1, "{another}", NULL, NULL, 0, 0) == NULL);
    void *unit = Instantiate("unit", 1, argv[2], NULL, NULL, 0, 0);
    CHECK(unit != NULL);
    CHECK(SetupExperiment(unit, 0, 0, 0, 1, step * (double)steps) == 0);
    CHECK(((plain)EnterInitializationMode)(unit) == 0);
#define GetFMUState GetFMUstate
#define SetFMUState SetFMUstate
#define FreeFMUState FreeFMUstate
#define SerializedFMUStateSize SerializedFMUstateSize
#define SerializeFMUState SerializeFMUstate
#define DeserializeFMUState DeSerializeFMUstate
#define SET SetReal(unit, ins, nin, in)
#define GET(into) GetReal(unit, outs, nout, into)
#define STEP DoStep(unit, step * (double)i, step, 1)
#define STRANGE GetReal(unit, &(reference){ 4000000u }, 1, again)
#endif
    long i;
    CHECK(STRANGE != 0);
    CHECK(ExitInitializationMode(unit) == 0);
    for (i = 0; i < steps; i++) {
        CHECK(nin == 0 || fread(in, sizeof *in, nin, from) == nin);
        CHECK(nin == 0 || SET == 0);
        CHECK(GET(out) == 0);
        CHECK(fwrite(out, sizeof *out, nout, to) == nout);
        if (i == steps / 2) {
            /* Saved, packed, left behind, unpacked, and found as it was. */
            void *state = NULL, *back = NULL;
            size_t size = 0;
            CHECK(GetFMUState(unit, &state) == 0);
            CHECK(SerializedFMUStateSize(unit, state, &size) == 0);
            char *bytes = malloc(size);
            CHECK(SerializeFMUState(unit, state, bytes, size) == 0);
            for (int k = 0; k < 50; k++)
                CHECK(STEP == 0);
            CHECK(DeserializeFMUState(unit, bytes, size, &back) == 0);
            CHECK(SetFMUState(unit, back) == 0);
            CHECK(GET(again) == 0);
            CHECK(memcmp(out, again, nout * sizeof *out) == 0);
            CHECK(FreeFMUState(unit, &state) == 0 && state == NULL);
            CHECK(FreeFMUState(unit, &back) == 0);
            free(bytes);
        }
        CHECK(STEP == 0);
    }
    CHECK(Terminate(unit) == 0);
    CHECK(Reset(unit) == 0);
    ((void (*)(void *))dlsym(library,
#ifdef THIRD
        "fmi3FreeInstance"
#else
        "fmi2FreeInstance"
#endif
        ))(unit);
    return fclose(to) == 0 ? 0 : 1;
}
