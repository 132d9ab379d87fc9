
/* Functional Mock-up Interface for Co-Simulation, version 2.0. */
typedef void *fmi2Component;
typedef void *fmi2ComponentEnvironment;
typedef void *fmi2FMUstate;
typedef unsigned int fmi2ValueReference;
typedef double fmi2Real;
typedef int fmi2Integer;
typedef int fmi2Boolean;
typedef char fmi2Char;
typedef const fmi2Char *fmi2String;
typedef char fmi2Byte;
typedef enum { fmi2OK, fmi2Warning, fmi2Discard, fmi2Error, fmi2Fatal, fmi2Pending } fmi2Status;
typedef enum { fmi2ModelExchange, fmi2CoSimulation } fmi2Type;
typedef enum { fmi2DoStepStatus, fmi2PendingStatus, fmi2LastSuccessfulTime, fmi2Terminated } fmi2StatusKind;
typedef void (*fmi2CallbackLogger)(fmi2ComponentEnvironment, fmi2String, fmi2Status, fmi2String, fmi2String, ...);
typedef struct {
    fmi2CallbackLogger logger;
    void *(*allocateMemory)(size_t, size_t);
    void (*freeMemory)(void *);
    void (*stepFinished)(fmi2ComponentEnvironment, fmi2Status);
    fmi2ComponentEnvironment componentEnvironment;
} fmi2CallbackFunctions;

#define API __attribute__((visibility("default")))

static fmi2Status told(instance *c, fmi2Status status, const char *message)
{
    const fmi2CallbackFunctions *callbacks = c->environment;

    if ((callbacks != NULL) && (callbacks->logger != NULL)) {
        callbacks->logger(callbacks->componentEnvironment, c->name, status, "logStatusError", message);
    }
    return status;
}

API const char *fmi2GetTypesPlatform(void)
{
    return "default";
}

API const char *fmi2GetVersion(void)
{
    return "2.0";
}

API fmi2Status fmi2SetDebugLogging(fmi2Component component, fmi2Boolean on, size_t count, const fmi2String categories[])
{
    (void)component;
    (void)on;
    (void)count;
    (void)categories;
    return fmi2OK;
}

API fmi2Component fmi2Instantiate(fmi2String name, fmi2Type type, fmi2String token, fmi2String resources,
    const fmi2CallbackFunctions *callbacks, fmi2Boolean visible, fmi2Boolean logging)
{
    instance *c = NULL;

    (void)resources;
    (void)visible;
    (void)logging;
    if ((type == @KIND@) && (token != NULL) && (strcmp(token, "@TOKEN@") == 0)) {
        c = create(name);
        if (c != NULL) {
            /* Importers keep the callbacks for as long as the instance lives; nothing is written to them. */
            memcpy(&c->environment, &callbacks, sizeof callbacks);
        }
    }
    return c;
}

API void fmi2FreeInstance(fmi2Component component)
{
    instance *c = component;

    if (c != NULL) {
        free(c->name);
        free(c);
    }
}

API fmi2Status fmi2SetupExperiment(fmi2Component component, fmi2Boolean toleranceDefined, fmi2Real tolerance, fmi2Real startTime,
    fmi2Boolean stopTimeDefined, fmi2Real stopTime)
{
    instance *c = component;

    (void)toleranceDefined;
    (void)tolerance;
    (void)stopTimeDefined;
    (void)stopTime;
    c->origin = startTime;
    c->now = startTime;
    return fmi2OK;
}

API fmi2Status fmi2EnterInitializationMode(fmi2Component component)
{
    (void)component;
    return fmi2OK;
}

API fmi2Status fmi2ExitInitializationMode(fmi2Component component)
{
    begin(component);
    return fmi2OK;
}

API fmi2Status fmi2Terminate(fmi2Component component)
{
    (void)component;
    return fmi2OK;
}

API fmi2Status fmi2Reset(fmi2Component component)
{
    reset(component);
    return fmi2OK;
}

/* Values of many variables of one type; AS is that of the unit. */
#define VARIABLES(TYPE, AS, KIND, GIVEN, TAKEN)                                                                     \
    API fmi2Status fmi2Get##TYPE(fmi2Component component, const fmi2ValueReference references[], size_t count,       \
        fmi2##TYPE values[])                                                                                         \
    {                                                                                                                \
        fmi2Status status = is_sound(component) ? fmi2OK : told(component, fmi2Discard, "A loop was not solved.");   \
        size_t i;                                                                                                    \
                                                                                                                     \
        for (i = 0U; (i < count) && (status == fmi2OK); i++) {                                                       \
            AS value = (AS)0;                                                                                        \
                                                                                                                     \
            if (!get_##KIND(component, references[i], &value)) {                                                     \
                status = told(component, fmi2Error, "There is no variable of this type and reference.");             \
            }                                                                                                        \
            values[i] = TAKEN;                                                                                       \
        }                                                                                                            \
        return status;                                                                                               \
    }                                                                                                                \
    API fmi2Status fmi2Set##TYPE(fmi2Component component, const fmi2ValueReference references[], size_t count,       \
        const fmi2##TYPE values[])                                                                                   \
    {                                                                                                                \
        fmi2Status status = fmi2OK;                                                                                  \
        size_t i;                                                                                                    \
                                                                                                                     \
        for (i = 0U; (i < count) && (status == fmi2OK); i++) {                                                       \
            if (!set_##KIND(component, references[i], GIVEN)) {                                                      \
                status = told(component, fmi2Error, "No variable of this type and reference can be set.");           \
            }                                                                                                        \
        }                                                                                                            \
        return status;                                                                                               \
    }

VARIABLES(Real, double, real, values[i], value)
VARIABLES(Integer, int32_t, integer, values[i], value)
VARIABLES(Boolean, bool, boolean, (values[i] != 0), (value ? 1 : 0))

API fmi2Status fmi2GetString(fmi2Component component, const fmi2ValueReference references[], size_t count, fmi2String values[])
{
    (void)references;
    (void)values;
    return (count == 0U) ? fmi2OK : told(component, fmi2Error, "There are no texts.");
}

API fmi2Status fmi2SetString(fmi2Component component, const fmi2ValueReference references[], size_t count,
    const fmi2String values[])
{
    (void)references;
    (void)values;
    return (count == 0U) ? fmi2OK : told(component, fmi2Error, "There are no texts.");
}

API fmi2Status fmi2GetFMUstate(fmi2Component component, fmi2FMUstate *state)
{
    fmi2Status status = fmi2OK;

    if (*state == NULL) {
        *state = calloc(1U, sizeof(instance));
    }
    if (*state == NULL) {
        status = told(component, fmi2Error, "There is no memory left.");
    } else {
        take_over(*state, component);
    }
    return status;
}

API fmi2Status fmi2SetFMUstate(fmi2Component component, fmi2FMUstate state)
{
    take_over(component, state);
    return fmi2OK;
}

API fmi2Status fmi2FreeFMUstate(fmi2Component component, fmi2FMUstate *state)
{
    (void)component;
    free(*state);
    *state = NULL;
    return fmi2OK;
}

API fmi2Status fmi2SerializedFMUstateSize(fmi2Component component, fmi2FMUstate state, size_t *size)
{
    (void)component;
    (void)state;
    *size = sizeof(instance);
    return fmi2OK;
}

API fmi2Status fmi2SerializeFMUstate(fmi2Component component, fmi2FMUstate state, fmi2Byte bytes[], size_t size)
{
    fmi2Status status = fmi2OK;

    if (size < sizeof(instance)) {
        status = told(component, fmi2Error, "There is too little room for the state.");
    } else {
        memcpy(bytes, state, sizeof(instance));
    }
    return status;
}

API fmi2Status fmi2DeSerializeFMUstate(fmi2Component component, const fmi2Byte bytes[], size_t size, fmi2FMUstate *state)
{
    fmi2Status status = fmi2OK;

    if (size != sizeof(instance)) {
        status = told(component, fmi2Error, "This is no state of this unit.");
    } else {
        if (*state == NULL) {
            *state = calloc(1U, sizeof(instance));
        }
        if (*state == NULL) {
            status = told(component, fmi2Error, "There is no memory left.");
        } else {
            memcpy(*state, bytes, sizeof(instance));
        }
    }
    return status;
}

