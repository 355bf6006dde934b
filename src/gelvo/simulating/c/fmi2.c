/* The functions of the Functional Mock-up Interface 2.0, model exchange and co-simulation. */
#include "unit.h"

typedef void *Component;
typedef void *State;
typedef unsigned int Reference;
typedef int Boolean;
typedef const char *String;
typedef struct {
    void (*log)(void *environment, String instance, Status status, String category, String message, ...);
    void *(*allocate)(size_t count, size_t size);
    void (*free)(void *memory);
    void (*finished)(void *environment, Status status);
    void *environment;
} Callbacks;
typedef struct {
    Boolean new_states_needed, terminate, nominals_changed, states_changed, next_time_defined;
    double next_time;
} EventInfo;

EXPORTED String fmi2GetTypesPlatform(void) { return "default"; }
EXPORTED String fmi2GetVersion(void) { return "2.0"; }
EXPORTED Status fmi2SetDebugLogging(Component c, Boolean on, size_t n, const String categories[])
{
    (void)c, (void)on, (void)n, (void)categories;
    return OK;
}

EXPORTED Component fmi2Instantiate(String instance, int kind, String token, String place, const Callbacks *callbacks, Boolean visible,
                                   Boolean logging)
{
    Component made = new_unit(token);
    (void)kind, (void)place, (void)visible, (void)logging;
    if (!made && callbacks && callbacks->log)
        callbacks->log(callbacks->environment, instance, ERROR, "logStatusError", "the unit is not the one of the model description");
    return made;
}
EXPORTED void fmi2FreeInstance(Component c) { free(c); }

EXPORTED Status fmi2SetupExperiment(Component c, Boolean has_tolerance, double tolerance, double start, Boolean has_stop, double stop)
{
    (void)has_stop, (void)stop;
    start_at(c, start, has_tolerance, tolerance);
    return OK;
}
EXPORTED Status fmi2EnterInitializationMode(Component c) { (void)c; return OK; }
EXPORTED Status fmi2ExitInitializationMode(Component c) { (void)c; return OK; }
EXPORTED Status fmi2Terminate(Component c) { (void)c; return OK; }
EXPORTED Status fmi2Reset(Component c) { reset(c); return OK; }

EXPORTED Status fmi2GetReal(Component c, const Reference numbers[], size_t count, double values[])
{
    return get_values(c, numbers, count, values);
}
EXPORTED Status fmi2SetReal(Component c, const Reference numbers[], size_t count, const double values[])
{
    return set_values(c, numbers, count, values);
}
/* the model has real variables alone */
#define NONE(function, kind) \
    EXPORTED Status function(Component c, const Reference numbers[], size_t count, kind values[]) \
    { (void)c, (void)numbers, (void)values; return count ? ERROR : OK; }
NONE(fmi2GetInteger, int)
NONE(fmi2GetBoolean, Boolean)
NONE(fmi2GetString, String)
NONE(fmi2SetInteger, const int)
NONE(fmi2SetBoolean, const Boolean)
NONE(fmi2SetString, const String)

EXPORTED Status fmi2GetFMUstate(Component c, State *state)
{
    return keep(&((Unit *)c)->values, sizeof(Values), state);
}
EXPORTED Status fmi2SetFMUstate(Component c, State state)
{
    return put_back(c, state);
}
EXPORTED Status fmi2FreeFMUstate(Component c, State *state)
{
    (void)c;
    return forget(state);
}
EXPORTED Status fmi2SerializedFMUstateSize(Component c, State state, size_t *size)
{
    (void)c, (void)state;
    *size = sizeof(Values);
    return OK;
}
EXPORTED Status fmi2SerializeFMUstate(Component c, State state, char bytes[], size_t size)
{
    (void)c;
    return as_bytes(state, bytes, size);
}
EXPORTED Status fmi2DeSerializeFMUstate(Component c, const char bytes[], size_t size, State *state)
{
    (void)c;
    return keep(bytes, size, state);
}
EXPORTED Status fmi2GetDirectionalDerivative(Component c, const Reference unknowns[], size_t many, const Reference knowns[], size_t count,
                                             const double seed[], double result[])
{
    (void)c, (void)unknowns, (void)many, (void)knowns, (void)count, (void)seed, (void)result;
    return ERROR;
}

/* model exchange */
EXPORTED Status fmi2EnterEventMode(Component c) { (void)c; return OK; }
EXPORTED Status fmi2EnterContinuousTimeMode(Component c) { (void)c; return OK; }
EXPORTED Status fmi2NewDiscreteStates(Component c, EventInfo *info)
{
    (void)c;
    memset(info, 0, sizeof *info);
    return OK;
}
EXPORTED Status fmi2CompletedIntegratorStep(Component c, Boolean no_set_state, Boolean *enter_events, Boolean *terminate)
{
    (void)c, (void)no_set_state;
    *enter_events = *terminate = 0;
    return OK;
}
EXPORTED Status fmi2SetTime(Component c, double time)
{
    ((Unit *)c)->values.time = time;
    return OK;
}
EXPORTED Status fmi2SetContinuousStates(Component c, const double x[], size_t count)
{
    return set_states(c, x, count);
}
EXPORTED Status fmi2GetContinuousStates(Component c, double x[], size_t count)
{
    return get_states(c, x, count);
}
EXPORTED Status fmi2GetDerivatives(Component c, double rates[], size_t count)
{
    return get_rates(c, rates, count);
}
EXPORTED Status fmi2GetEventIndicators(Component c, double indicators[], size_t count)
{
    return get_events(c, indicators, count);
}
EXPORTED Status fmi2GetNominalsOfContinuousStates(Component c, double nominals[], size_t count)
{
    (void)c;
    return get_nominals(nominals, count);
}

/* co-simulation */
EXPORTED Status fmi2SetRealInputDerivatives(Component c, const Reference numbers[], size_t count, const int orders[], const double values[])
{
    (void)c, (void)numbers, (void)orders, (void)values;
    return count ? ERROR : OK;
}
EXPORTED Status fmi2GetRealOutputDerivatives(Component c, const Reference numbers[], size_t count, const int orders[], double values[])
{
    (void)c, (void)numbers, (void)orders, (void)values;
    return count ? ERROR : OK;
}
EXPORTED Status fmi2DoStep(Component c, double time, double length, Boolean final)
{
    (void)final;
    ((Unit *)c)->values.time = time;
    return advance(c, length) ? OK : ERROR;
}
EXPORTED Status fmi2CancelStep(Component c) { (void)c; return ERROR; }
#define NOT_ASKED(function, kind) \
    EXPORTED Status function(Component c, int what, kind *value) { (void)c, (void)what, (void)value; return DISCARD; }
NOT_ASKED(fmi2GetStatus, Status)
NOT_ASKED(fmi2GetRealStatus, double)
NOT_ASKED(fmi2GetIntegerStatus, int)
NOT_ASKED(fmi2GetBooleanStatus, Boolean)
NOT_ASKED(fmi2GetStringStatus, String)
