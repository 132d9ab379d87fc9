
/* What is different for co-simulation and model exchange. */
API fmi3Instance fmi3InstantiateModelExchange(fmi3String name, fmi3String token, fmi3String resources, fmi3Boolean visible,
    fmi3Boolean logging, fmi3InstanceEnvironment environment, fmi3LogMessageCallback log)
{
    instance *c = NULL;

    (void)resources;
    (void)visible;
    (void)logging;
    if ((token != NULL) && (strcmp(token, "@TOKEN@") == 0)) {
        c = create(name);
        if (c != NULL) {
            c->environment = environment;
            memcpy(&c->log, &log, sizeof log);
        }
    }
    return c;
}

API fmi3Instance fmi3InstantiateCoSimulation(fmi3String name, fmi3String token, fmi3String resources, fmi3Boolean visible,
    fmi3Boolean logging, fmi3Boolean events, fmi3Boolean early, const fmi3ValueReference required[], size_t count,
    fmi3InstanceEnvironment environment, fmi3LogMessageCallback log, fmi3IntermediateUpdateCallback update)
{
    (void)name;
    (void)token;
    (void)resources;
    (void)visible;
    (void)logging;
    (void)events;
    (void)early;
    (void)required;
    (void)count;
    (void)environment;
    (void)log;
    (void)update;
    return NULL;
}

API fmi3Status fmi3EnterEventMode(fmi3Instance made)
{
    (void)made;
    return fmi3OK;
}

API fmi3Status fmi3EvaluateDiscreteStates(fmi3Instance made)
{
    (void)made;
    return fmi3OK;
}

API fmi3Status fmi3UpdateDiscreteStates(fmi3Instance made, fmi3Boolean *more, fmi3Boolean *ends, fmi3Boolean *nominals,
    fmi3Boolean *states, fmi3Boolean *defined, fmi3Float64 *next)
{
    instance *c = made;
    bool moved = false;
    bool good;
    double when;

    if (!c->begun) {
        return told(c, fmi3Error, "It has not begun.");
    }
    good = decide(c, &moved);
    when = next_event(c);
    *more = false;
    *ends = false;
    *nominals = false;
    *states = moved;
    *defined = isfinite(when);
    *next = isfinite(when) ? when : 0.0;
    return good ? fmi3OK : told(c, fmi3Warning, "Loops were not solved, or decisions did not settle.");
}

API fmi3Status fmi3EnterContinuousTimeMode(fmi3Instance made)
{
    (void)made;
    return fmi3OK;
}

API fmi3Status fmi3CompletedIntegratorStep(fmi3Instance made, fmi3Boolean noSetBefore, fmi3Boolean *events, fmi3Boolean *ends)
{
    accept(made);
    (void)noSetBefore;
    *events = false;
    *ends = false;
    return fmi3OK;
}

API fmi3Status fmi3SetTime(fmi3Instance made, fmi3Float64 time)
{
    instance *c = made;

    c->now = time;
    c->known = false;
    return fmi3OK;
}

API fmi3Status fmi3SetContinuousStates(fmi3Instance made, const fmi3Float64 x[], size_t count)
{
    if (count != STATES) {
        return told(made, fmi3Error, "It has another number of states.");
    }
    set_states(made, x);
    return fmi3OK;
}

API fmi3Status fmi3GetContinuousStateDerivatives(fmi3Instance made, fmi3Float64 dx[], size_t count)
{
    if (count != STATES) {
        return told(made, fmi3Error, "It has another number of states.");
    }
    if (!is_well(made)) {
        return told(made, fmi3Discard, "A loop was not solved.");
    }
    get_slopes(made, dx);
    return fmi3OK;
}

API fmi3Status fmi3GetEventIndicators(fmi3Instance component, fmi3Float64 z[], size_t count)
{
    if (count != INDICATORS) {
        return told(component, fmi3Error, "It has another number of event indicators.");
    }
    if (!is_well(component)) {
        return told(component, fmi3Discard, "A loop was not solved.");
    }
@GETINDICATORS@
    return fmi3OK;
}

API fmi3Status fmi3GetContinuousStates(fmi3Instance made, fmi3Float64 x[], size_t count)
{
    if (count != STATES) {
        return told(made, fmi3Error, "It has another number of states.");
    }
    refresh(made);
    get_states(made, x);
    return fmi3OK;
}

API fmi3Status fmi3GetNominalsOfContinuousStates(fmi3Instance made, fmi3Float64 x[], size_t count)
{
    if (count != STATES) {
        return told(made, fmi3Error, "It has another number of states.");
    }
    get_nominals(x);
    return fmi3OK;
}

API fmi3Status fmi3GetNumberOfEventIndicators(fmi3Instance made, size_t *count)
{
    (void)made;
    *count = INDICATORS;
    return fmi3OK;
}

API fmi3Status fmi3GetNumberOfContinuousStates(fmi3Instance made, size_t *count)
{
    (void)made;
    *count = STATES;
    return fmi3OK;
}

API fmi3Status fmi3EnterStepMode(fmi3Instance made)
{
    return told(made, fmi3Error, "Who has it integrates it.");
}

API fmi3Status fmi3GetOutputDerivatives(fmi3Instance made, const fmi3ValueReference references[], size_t count,
    const fmi3Int32 orders[], fmi3Float64 values[], size_t size)
{
    (void)references;
    (void)count;
    (void)orders;
    (void)values;
    (void)size;
    return told(made, fmi3Error, "It gives no derivatives of outputs over time.");
}

API fmi3Status fmi3DoStep(fmi3Instance made, fmi3Float64 from, fmi3Float64 size, fmi3Boolean noSetBefore, fmi3Boolean *events,
    fmi3Boolean *ends, fmi3Boolean *early, fmi3Float64 *reached)
{
    (void)from;
    (void)size;
    (void)noSetBefore;
    (void)events;
    (void)ends;
    (void)early;
    (void)reached;
    return told(made, fmi3Error, "Who has it integrates it.");
}

API fmi3Status fmi3GetDirectionalDerivative(fmi3Instance made, const fmi3ValueReference unknowns[], size_t unknownCount,
    const fmi3ValueReference knowns[], size_t knownCount, const fmi3Float64 by[], size_t bySize, fmi3Float64 values[], size_t size)
{
    return ((bySize == knownCount) && (size == unknownCount)
               && change(made, unknowns, unknownCount, knowns, knownCount, by, values))
        ? fmi3OK
        : told(made, fmi3Discard, "A loop was not solved, or references or numbers of values do not fit.");
}

API fmi3Status fmi3GetAdjointDerivative(fmi3Instance made, const fmi3ValueReference unknowns[], size_t unknownCount,
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
    return told(made, fmi3Error, "It gives no adjoint derivatives.");
}
