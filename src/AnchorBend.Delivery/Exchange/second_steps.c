
/* What units for co-simulation have. */
API fmi2Status fmi2GetDirectionalDerivative(fmi2Component component, const fmi2ValueReference unknowns[], size_t unknownCount,
    const fmi2ValueReference knowns[], size_t knownCount, const fmi2Real by[], fmi2Real values[])
{
    (void)unknowns;
    (void)unknownCount;
    (void)knowns;
    (void)knownCount;
    (void)by;
    (void)values;
    return told(component, fmi2Error, "It gives no derivatives.");
}

API fmi2Status fmi2SetRealInputDerivatives(fmi2Component component, const fmi2ValueReference references[], size_t count,
    const fmi2Integer orders[], const fmi2Real values[])
{
    (void)references;
    (void)count;
    (void)orders;
    (void)values;
    return told(component, fmi2Error, "Inputs are held between communication points.");
}

API fmi2Status fmi2GetRealOutputDerivatives(fmi2Component component, const fmi2ValueReference references[], size_t count,
    const fmi2Integer orders[], fmi2Real values[])
{
    (void)references;
    (void)count;
    (void)orders;
    (void)values;
    return told(component, fmi2Error, "It gives no derivatives.");
}

API fmi2Status fmi2DoStep(fmi2Component component, fmi2Real from, fmi2Real size, fmi2Boolean noSetBefore)
{
    instance *c = component;

    (void)noSetBefore;
    if (!c->begun || !(size >= 0.0)) {
        return told(c, fmi2Error, "It has not begun, or the step goes back.");
    }
    return advance(c, from + size) ? fmi2OK : told(c, fmi2Warning, "Loops were not solved, or decisions did not settle.");
}

API fmi2Status fmi2CancelStep(fmi2Component component)
{
    return told(component, fmi2Error, "Steps end before they return.");
}

API fmi2Status fmi2GetStatus(fmi2Component component, const fmi2StatusKind kind, fmi2Status *value)
{
    (void)component;
    (void)kind;
    *value = fmi2OK;
    return fmi2Discard;
}

API fmi2Status fmi2GetRealStatus(fmi2Component component, const fmi2StatusKind kind, fmi2Real *value)
{
    const instance *c = component;

    *value = c->now;
    return (kind == fmi2LastSuccessfulTime) ? fmi2OK : fmi2Discard;
}

API fmi2Status fmi2GetIntegerStatus(fmi2Component component, const fmi2StatusKind kind, fmi2Integer *value)
{
    (void)component;
    (void)kind;
    *value = 0;
    return fmi2Discard;
}

API fmi2Status fmi2GetBooleanStatus(fmi2Component component, const fmi2StatusKind kind, fmi2Boolean *value)
{
    (void)component;
    *value = 0;
    return (kind == fmi2Terminated) ? fmi2OK : fmi2Discard;
}

API fmi2Status fmi2GetStringStatus(fmi2Component component, const fmi2StatusKind kind, fmi2String *value)
{
    (void)component;
    (void)kind;
    *value = "";
    return fmi2Discard;
}
