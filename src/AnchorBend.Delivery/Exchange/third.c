
/* Functional Mock-up Interface for Co-Simulation, version 3.0. */
typedef void *fmi3Instance;
typedef void *fmi3InstanceEnvironment;
typedef void *fmi3FMUState;
typedef uint32_t fmi3ValueReference;
typedef float fmi3Float32;
typedef double fmi3Float64;
typedef int8_t fmi3Int8;
typedef uint8_t fmi3UInt8;
typedef int16_t fmi3Int16;
typedef uint16_t fmi3UInt16;
typedef int32_t fmi3Int32;
typedef uint32_t fmi3UInt32;
typedef int64_t fmi3Int64;
typedef uint64_t fmi3UInt64;
typedef bool fmi3Boolean;
typedef char fmi3Char;
typedef const fmi3Char *fmi3String;
typedef uint8_t fmi3Byte;
typedef const fmi3Byte *fmi3Binary;
typedef bool fmi3Clock;
typedef enum { fmi3OK, fmi3Warning, fmi3Discard, fmi3Error, fmi3Fatal } fmi3Status;
typedef enum { fmi3Independent, fmi3Constant, fmi3Fixed, fmi3Tunable, fmi3Discrete, fmi3Dependent } fmi3DependencyKind;
typedef enum { fmi3IntervalNotYetKnown, fmi3IntervalUnchanged, fmi3IntervalChanged } fmi3IntervalQualifier;
typedef void (*fmi3LogMessageCallback)(fmi3InstanceEnvironment, fmi3Status, fmi3String, fmi3String);
typedef void (*fmi3ClockUpdateCallback)(fmi3InstanceEnvironment);
typedef void (*fmi3IntermediateUpdateCallback)(fmi3InstanceEnvironment, fmi3Float64, fmi3Boolean, fmi3Boolean, fmi3Boolean,
    fmi3Boolean, fmi3Boolean *, fmi3Float64 *);
typedef void (*fmi3LockPreemptionCallback)(void);
typedef void (*fmi3UnlockPreemptionCallback)(void);

#define API __attribute__((visibility("default")))

static fmi3Status told(const instance *c, fmi3Status status, const char *message)
{
    fmi3LogMessageCallback log = NULL;

    memcpy(&log, &c->log, sizeof log);
    if (log != NULL) {
        log(c->environment, status, "logStatusError", message);
    }
    return status;
}

API const char *fmi3GetVersion(void)
{
    return "3.0";
}

API fmi3Status fmi3SetDebugLogging(fmi3Instance made, fmi3Boolean on, size_t count, const fmi3String categories[])
{
    (void)made;
    (void)on;
    (void)count;
    (void)categories;
    return fmi3OK;
}

API fmi3Instance fmi3InstantiateScheduledExecution(fmi3String name, fmi3String token, fmi3String resources, fmi3Boolean visible,
    fmi3Boolean logging, fmi3InstanceEnvironment environment, fmi3LogMessageCallback log, fmi3ClockUpdateCallback update,
    fmi3LockPreemptionCallback lock, fmi3UnlockPreemptionCallback unlock)
{
    (void)name;
    (void)token;
    (void)resources;
    (void)visible;
    (void)logging;
    (void)environment;
    (void)log;
    (void)update;
    (void)lock;
    (void)unlock;
    return NULL;
}

API void fmi3FreeInstance(fmi3Instance made)
{
    instance *c = made;

    if (c != NULL) {
        free(c->name);
        free(c);
    }
}

API fmi3Status fmi3EnterInitializationMode(fmi3Instance made, fmi3Boolean toleranceDefined, fmi3Float64 tolerance,
    fmi3Float64 startTime, fmi3Boolean stopTimeDefined, fmi3Float64 stopTime)
{
    instance *c = made;

    (void)toleranceDefined;
    (void)tolerance;
    (void)stopTimeDefined;
    (void)stopTime;
    c->origin = startTime;
    c->now = startTime;
    return fmi3OK;
}

API fmi3Status fmi3ExitInitializationMode(fmi3Instance made)
{
    begin(made);
    return fmi3OK;
}

API fmi3Status fmi3Terminate(fmi3Instance made)
{
    (void)made;
    return fmi3OK;
}

API fmi3Status fmi3Reset(fmi3Instance made)
{
    reset(made);
    return fmi3OK;
}

/* Values of many variables of one type. */
#define VARIABLES(TYPE, KIND)                                                                                       \
    API fmi3Status fmi3Get##TYPE(fmi3Instance made, const fmi3ValueReference references[], size_t count,             \
        fmi3##TYPE values[], size_t size)                                                                            \
    {                                                                                                                \
        fmi3Status status = (count == size) ? fmi3OK : told(made, fmi3Error, "Every variable has one value.");       \
        size_t i;                                                                                                    \
                                                                                                                     \
        if ((status == fmi3OK) && !is_sound(made)) {                                                                 \
            status = told(made, fmi3Discard, "A loop was not solved.");                                              \
        }                                                                                                            \
        for (i = 0U; (i < count) && (status == fmi3OK); i++) {                                                       \
            if (!get_##KIND(made, references[i], &values[i])) {                                                      \
                status = told(made, fmi3Error, "There is no variable of this type and reference.");                  \
            }                                                                                                        \
        }                                                                                                            \
        return status;                                                                                               \
    }                                                                                                                \
    API fmi3Status fmi3Set##TYPE(fmi3Instance made, const fmi3ValueReference references[], size_t count,             \
        const fmi3##TYPE values[], size_t size)                                                                      \
    {                                                                                                                \
        fmi3Status status = (count == size) ? fmi3OK : told(made, fmi3Error, "Every variable has one value.");       \
        size_t i;                                                                                                    \
                                                                                                                     \
        for (i = 0U; (i < count) && (status == fmi3OK); i++) {                                                       \
            if (!set_##KIND(made, references[i], values[i])) {                                                       \
                status = told(made, fmi3Error, "No variable of this type and reference can be set.");                \
            }                                                                                                        \
        }                                                                                                            \
        return status;                                                                                               \
    }

VARIABLES(Float64, real)
VARIABLES(Int32, integer)
VARIABLES(Boolean, boolean)

/* Types that no variable has. */
#define NO_VARIABLES(TYPE)                                                                                        \
    API fmi3Status fmi3Get##TYPE(fmi3Instance made, const fmi3ValueReference references[], size_t count,         \
        fmi3##TYPE values[], size_t size)                                                                         \
    {                                                                                                             \
        (void)references;                                                                                         \
        (void)values;                                                                                             \
        (void)size;                                                                                               \
        return (count == 0U) ? fmi3OK : told(made, fmi3Error, "There are no variables of this type.");           \
    }                                                                                                             \
    API fmi3Status fmi3Set##TYPE(fmi3Instance made, const fmi3ValueReference references[], size_t count,         \
        const fmi3##TYPE values[], size_t size)                                                                   \
    {                                                                                                             \
        (void)references;                                                                                         \
        (void)values;                                                                                             \
        (void)size;                                                                                               \
        return (count == 0U) ? fmi3OK : told(made, fmi3Error, "There are no variables of this type.");           \
    }

NO_VARIABLES(Float32)
NO_VARIABLES(Int8)
NO_VARIABLES(UInt8)
NO_VARIABLES(Int16)
NO_VARIABLES(UInt16)
NO_VARIABLES(UInt32)
NO_VARIABLES(Int64)
NO_VARIABLES(UInt64)
NO_VARIABLES(String)

API fmi3Status fmi3GetBinary(fmi3Instance made, const fmi3ValueReference references[], size_t count, size_t sizes[],
    fmi3Binary values[], size_t size)
{
    (void)references;
    (void)sizes;
    (void)values;
    (void)size;
    return (count == 0U) ? fmi3OK : told(made, fmi3Error, "There are no variables of this type.");
}

API fmi3Status fmi3SetBinary(fmi3Instance made, const fmi3ValueReference references[], size_t count, const size_t sizes[],
    const fmi3Binary values[], size_t size)
{
    (void)references;
    (void)sizes;
    (void)values;
    (void)size;
    return (count == 0U) ? fmi3OK : told(made, fmi3Error, "There are no variables of this type.");
}

API fmi3Status fmi3GetClock(fmi3Instance made, const fmi3ValueReference references[], size_t count, fmi3Clock values[])
{
    (void)references;
    (void)values;
    return (count == 0U) ? fmi3OK : told(made, fmi3Error, "There are no clocks.");
}

API fmi3Status fmi3SetClock(fmi3Instance made, const fmi3ValueReference references[], size_t count, const fmi3Clock values[])
{
    (void)references;
    (void)values;
    return (count == 0U) ? fmi3OK : told(made, fmi3Error, "There are no clocks.");
}

API fmi3Status fmi3GetNumberOfVariableDependencies(fmi3Instance made, fmi3ValueReference reference, size_t *count)
{
    (void)reference;
    *count = 0U;
    return told(made, fmi3Error, "It tells no dependencies.");
}

API fmi3Status fmi3GetVariableDependencies(fmi3Instance made, fmi3ValueReference dependent, size_t elements[],
    fmi3ValueReference independents[], size_t of[], fmi3DependencyKind kinds[], size_t count)
{
    (void)dependent;
    (void)elements;
    (void)independents;
    (void)of;
    (void)kinds;
    (void)count;
    return told(made, fmi3Error, "It tells no dependencies.");
}

API fmi3Status fmi3GetFMUState(fmi3Instance made, fmi3FMUState *state)
{
    fmi3Status status = fmi3OK;

    if (*state == NULL) {
        *state = calloc(1U, sizeof(instance));
    }
    if (*state == NULL) {
        status = told(made, fmi3Error, "There is no memory left.");
    } else {
        take_over(*state, made);
    }
    return status;
}

API fmi3Status fmi3SetFMUState(fmi3Instance made, fmi3FMUState state)
{
    take_over(made, state);
    return fmi3OK;
}

API fmi3Status fmi3FreeFMUState(fmi3Instance made, fmi3FMUState *state)
{
    (void)made;
    free(*state);
    *state = NULL;
    return fmi3OK;
}

API fmi3Status fmi3SerializedFMUStateSize(fmi3Instance made, fmi3FMUState state, size_t *size)
{
    (void)made;
    (void)state;
    *size = sizeof(instance);
    return fmi3OK;
}

API fmi3Status fmi3SerializeFMUState(fmi3Instance made, fmi3FMUState state, fmi3Byte bytes[], size_t size)
{
    fmi3Status status = fmi3OK;

    if (size < sizeof(instance)) {
        status = told(made, fmi3Error, "There is too little room for the state.");
    } else {
        memcpy(bytes, state, sizeof(instance));
    }
    return status;
}

API fmi3Status fmi3DeserializeFMUState(fmi3Instance made, const fmi3Byte bytes[], size_t size, fmi3FMUState *state)
{
    fmi3Status status = fmi3OK;

    if (size != sizeof(instance)) {
        status = told(made, fmi3Error, "This is no state of this unit.");
    } else {
        if (*state == NULL) {
            *state = calloc(1U, sizeof(instance));
        }
        if (*state == NULL) {
            status = told(made, fmi3Error, "There is no memory left.");
        } else {
            memcpy(*state, bytes, sizeof(instance));
        }
    }
    return status;
}

API fmi3Status fmi3EnterConfigurationMode(fmi3Instance made)
{
    return told(made, fmi3Error, "It has no configuration mode.");
}

API fmi3Status fmi3ExitConfigurationMode(fmi3Instance made)
{
    return told(made, fmi3Error, "It has no configuration mode.");
}

API fmi3Status fmi3GetIntervalDecimal(fmi3Instance made, const fmi3ValueReference references[], size_t count,
    fmi3Float64 intervals[], fmi3IntervalQualifier qualifiers[])
{
    (void)references;
    (void)intervals;
    (void)qualifiers;
    return (count == 0U) ? fmi3OK : told(made, fmi3Error, "There are no clocks.");
}

API fmi3Status fmi3GetIntervalFraction(fmi3Instance made, const fmi3ValueReference references[], size_t count,
    fmi3UInt64 counters[], fmi3UInt64 resolutions[], fmi3IntervalQualifier qualifiers[])
{
    (void)references;
    (void)counters;
    (void)resolutions;
    (void)qualifiers;
    return (count == 0U) ? fmi3OK : told(made, fmi3Error, "There are no clocks.");
}

API fmi3Status fmi3GetShiftDecimal(fmi3Instance made, const fmi3ValueReference references[], size_t count, fmi3Float64 shifts[])
{
    (void)references;
    (void)shifts;
    return (count == 0U) ? fmi3OK : told(made, fmi3Error, "There are no clocks.");
}

API fmi3Status fmi3GetShiftFraction(fmi3Instance made, const fmi3ValueReference references[], size_t count, fmi3UInt64 counters[],
    fmi3UInt64 resolutions[])
{
    (void)references;
    (void)counters;
    (void)resolutions;
    return (count == 0U) ? fmi3OK : told(made, fmi3Error, "There are no clocks.");
}

API fmi3Status fmi3SetIntervalDecimal(fmi3Instance made, const fmi3ValueReference references[], size_t count,
    const fmi3Float64 intervals[])
{
    (void)references;
    (void)intervals;
    return (count == 0U) ? fmi3OK : told(made, fmi3Error, "There are no clocks.");
}

API fmi3Status fmi3SetIntervalFraction(fmi3Instance made, const fmi3ValueReference references[], size_t count,
    const fmi3UInt64 counters[], const fmi3UInt64 resolutions[])
{
    (void)references;
    (void)counters;
    (void)resolutions;
    return (count == 0U) ? fmi3OK : told(made, fmi3Error, "There are no clocks.");
}

API fmi3Status fmi3SetShiftDecimal(fmi3Instance made, const fmi3ValueReference references[], size_t count,
    const fmi3Float64 shifts[])
{
    (void)references;
    (void)shifts;
    return (count == 0U) ? fmi3OK : told(made, fmi3Error, "There are no clocks.");
}

API fmi3Status fmi3SetShiftFraction(fmi3Instance made, const fmi3ValueReference references[], size_t count,
    const fmi3UInt64 counters[], const fmi3UInt64 resolutions[])
{
    (void)references;
    (void)counters;
    (void)resolutions;
    return (count == 0U) ? fmi3OK : told(made, fmi3Error, "There are no clocks.");
}

API fmi3Status fmi3ActivateModelPartition(fmi3Instance made, fmi3ValueReference clock, fmi3Float64 time)
{
    (void)clock;
    (void)time;
    return told(made, fmi3Error, "It has no clocks.");
}
