
/* What units for model exchange have. */
typedef struct {
    fmi2Boolean newDiscreteStatesNeeded;
    fmi2Boolean terminateSimulation;
    fmi2Boolean nominalsOfContinuousStatesChanged;
    fmi2Boolean valuesOfContinuousStatesChanged;
    fmi2Boolean nextEventTimeDefined;
    fmi2Real nextEventTime;
} fmi2EventInfo;

API fmi2Status fmi2EnterEventMode(fmi2Component component)
{
    (void)component;
    return fmi2OK;
}

API fmi2Status fmi2NewDiscreteStates(fmi2Component component, fmi2EventInfo *info)
{
    instance *c = component;
    bool moved = false;
    bool good;
    double next;

    if (!c->begun) {
        return told(c, fmi2Error, "It has not begun.");
    }
    good = decide(c, &moved);
    next = next_event(c);
    info->newDiscreteStatesNeeded = 0;
    info->terminateSimulation = 0;
    info->nominalsOfContinuousStatesChanged = 0;
    info->valuesOfContinuousStatesChanged = moved ? 1 : 0;
    info->nextEventTimeDefined = isfinite(next) ? 1 : 0;
    info->nextEventTime = isfinite(next) ? next : 0.0;
    return good ? fmi2OK : told(c, fmi2Warning, "Loops were not solved, or decisions did not settle.");
}

API fmi2Status fmi2EnterContinuousTimeMode(fmi2Component component)
{
    (void)component;
    return fmi2OK;
}

API fmi2Status fmi2CompletedIntegratorStep(fmi2Component component, fmi2Boolean noSetBefore, fmi2Boolean *event, fmi2Boolean *ends)
{
    accept(component);
    (void)noSetBefore;
    *event = 0;
    *ends = 0;
    return fmi2OK;
}

API fmi2Status fmi2SetTime(fmi2Component component, fmi2Real time)
{
    instance *c = component;

    c->now = time;
    c->known = false;
    return fmi2OK;
}

API fmi2Status fmi2SetContinuousStates(fmi2Component component, const fmi2Real x[], size_t count)
{
    if (count != STATES) {
        return told(component, fmi2Error, "It has another number of states.");
    }
    set_states(component, x);
    return fmi2OK;
}

API fmi2Status fmi2GetDerivatives(fmi2Component component, fmi2Real dx[], size_t count)
{
    if (count != STATES) {
        return told(component, fmi2Error, "It has another number of states.");
    }
    if (!is_well(component)) {
        return told(component, fmi2Discard, "A loop was not solved.");
    }
    get_slopes(component, dx);
    return fmi2OK;
}

API fmi2Status fmi2GetEventIndicators(fmi2Component component, fmi2Real z[], size_t count)
{
    if (count != INDICATORS) {
        return told(component, fmi2Error, "It has another number of event indicators.");
    }
    if (!is_well(component)) {
        return told(component, fmi2Discard, "A loop was not solved.");
    }
@GETINDICATORS@
    return fmi2OK;
}

API fmi2Status fmi2GetContinuousStates(fmi2Component component, fmi2Real x[], size_t count)
{
    if (count != STATES) {
        return told(component, fmi2Error, "It has another number of states.");
    }
    refresh(component);
    get_states(component, x);
    return fmi2OK;
}

API fmi2Status fmi2GetNominalsOfContinuousStates(fmi2Component component, fmi2Real x[], size_t count)
{
    if (count != STATES) {
        return told(component, fmi2Error, "It has another number of states.");
    }
    get_nominals(x);
    return fmi2OK;
}

API fmi2Status fmi2GetDirectionalDerivative(fmi2Component component, const fmi2ValueReference unknowns[], size_t unknownCount,
    const fmi2ValueReference knowns[], size_t knownCount, const fmi2Real by[], fmi2Real values[])
{
    return change(component, unknowns, unknownCount, knowns, knownCount, by, values)
        ? fmi2OK
        : told(component, fmi2Discard, "A loop was not solved, or there is no real variable of one of these references.");
}
