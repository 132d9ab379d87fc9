
/* What is different for co-simulation and model exchange. */
API fmi3Instance fmi3InstantiateModelExchange(fmi3String name, fmi3String token, fmi3String resources, fmi3Boolean visible,
    fmi3Boolean logging, fmi3InstanceEnvironment environment, fmi3LogMessageCallback log)
{
    (void)name;
    (void)token;
    (void)resources;
    (void)visible;
    (void)logging;
    (void)environment;
    (void)log;
    return NULL;
}

API fmi3Instance fmi3InstantiateCoSimulation(fmi3String name, fmi3String token, fmi3String resources, fmi3Boolean visible,
    fmi3Boolean logging, fmi3Boolean events, fmi3Boolean early, const fmi3ValueReference required[], size_t count,
    fmi3InstanceEnvironment environment, fmi3LogMessageCallback log, fmi3IntermediateUpdateCallback update)
{
    instance *c = NULL;

    (void)resources;
    (void)visible;
    (void)logging;
    (void)events;
    (void)early;
    (void)required;
    (void)update;
    if ((token != NULL) && (strcmp(token, "@TOKEN@") == 0) && (count == 0U)) {
        c = create(name);
        if (c != NULL) {
            c->environment = environment;
            memcpy(&c->log, &log, sizeof log);
        }
    }
    return c;
}

API fmi3Status fmi3EnterEventMode(fmi3Instance made)
{
    return told(made, fmi3Error, "It has no event mode.");
}

API fmi3Status fmi3GetDirectionalDerivative(fmi3Instance made, const fmi3ValueReference unknowns[], size_t unknownCount,
    const fmi3ValueReference knowns[], size_t knownCount, const fmi3Float64 by[], size_t bySize, fmi3Float64 values[], size_t size)
{
    (void)unknowns;
    (void)unknownCount;
    (void)knowns;
    (void)knownCount;
    (void)by;
    (void)bySize;
    (void)values;
    (void)size;
    return told(made, fmi3Error, "It gives no derivatives.");
}

API fmi3Status fmi3GetAdjointDerivative(fmi3Instance made, const fmi3ValueReference unknowns[], size_t unknownCount,
    const fmi3ValueReference knowns[], size_t knownCount, const fmi3Float64 by[], size_t bySize, fmi3Float64 values[], size_t size)
{
    return fmi3GetDirectionalDerivative(made, unknowns, unknownCount, knowns, knownCount, by, bySize, values, size);
}

API fmi3Status fmi3EvaluateDiscreteStates(fmi3Instance made)
{
    return told(made, fmi3Error, "It has no event mode.");
}

API fmi3Status fmi3UpdateDiscreteStates(fmi3Instance made, fmi3Boolean *more, fmi3Boolean *ends, fmi3Boolean *nominals,
    fmi3Boolean *states, fmi3Boolean *defined, fmi3Float64 *next)
{
    *more = false;
    *ends = false;
    *nominals = false;
    *states = false;
    *defined = false;
    *next = 0.0;
    return told(made, fmi3Error, "It has no event mode.");
}

API fmi3Status fmi3EnterContinuousTimeMode(fmi3Instance made)
{
    return told(made, fmi3Error, "It integrates by itself.");
}

API fmi3Status fmi3CompletedIntegratorStep(fmi3Instance made, fmi3Boolean noSetBefore, fmi3Boolean *events, fmi3Boolean *ends)
{
    (void)noSetBefore;
    *events = false;
    *ends = false;
    return told(made, fmi3Error, "It integrates by itself.");
}

API fmi3Status fmi3SetTime(fmi3Instance made, fmi3Float64 time)
{
    (void)time;
    return told(made, fmi3Error, "It integrates by itself.");
}

API fmi3Status fmi3SetContinuousStates(fmi3Instance made, const fmi3Float64 states[], size_t count)
{
    (void)states;
    (void)count;
    return told(made, fmi3Error, "It integrates by itself.");
}

API fmi3Status fmi3GetContinuousStateDerivatives(fmi3Instance made, fmi3Float64 derivatives[], size_t count)
{
    (void)derivatives;
    (void)count;
    return told(made, fmi3Error, "It integrates by itself.");
}

API fmi3Status fmi3GetEventIndicators(fmi3Instance made, fmi3Float64 indicators[], size_t count)
{
    (void)indicators;
    (void)count;
    return told(made, fmi3Error, "It integrates by itself.");
}

API fmi3Status fmi3GetContinuousStates(fmi3Instance made, fmi3Float64 states[], size_t count)
{
    (void)states;
    (void)count;
    return told(made, fmi3Error, "It integrates by itself.");
}

API fmi3Status fmi3GetNominalsOfContinuousStates(fmi3Instance made, fmi3Float64 nominals[], size_t count)
{
    (void)nominals;
    (void)count;
    return told(made, fmi3Error, "It integrates by itself.");
}

API fmi3Status fmi3GetNumberOfEventIndicators(fmi3Instance made, size_t *count)
{
    (void)made;
    *count = 0U;
    return fmi3OK;
}

API fmi3Status fmi3GetNumberOfContinuousStates(fmi3Instance made, size_t *count)
{
    (void)made;
    *count = 0U;
    return fmi3OK;
}

API fmi3Status fmi3EnterStepMode(fmi3Instance made)
{
    return told(made, fmi3Error, "It has no event mode.");
}

API fmi3Status fmi3GetOutputDerivatives(fmi3Instance made, const fmi3ValueReference references[], size_t count,
    const fmi3Int32 orders[], fmi3Float64 values[], size_t size)
{
    (void)references;
    (void)count;
    (void)orders;
    (void)values;
    (void)size;
    return told(made, fmi3Error, "It gives no derivatives.");
}

API fmi3Status fmi3DoStep(fmi3Instance made, fmi3Float64 from, fmi3Float64 size, fmi3Boolean noSetBefore, fmi3Boolean *events,
    fmi3Boolean *ends, fmi3Boolean *early, fmi3Float64 *reached)
{
    instance *c = made;

    (void)noSetBefore;
    *events = false;
    *ends = false;
    *early = false;
    *reached = c->now;
    if (!c->begun || !(size >= 0.0)) {
        return told(c, fmi3Error, "It has not begun, or the step goes back.");
    }
    if (!advance(c, from + size)) {
        (void)told(c, fmi3Warning, "Loops were not solved, or decisions did not settle.");
        *reached = c->now;
        return fmi3Warning;
    }
    *reached = c->now;
    return fmi3OK;
}

