/* The functions of the Functional Mock-up Interface 3.0, model exchange and co-simulation. */
#include <stdbool.h>
#include <stdint.h>

#include "unit.h"

typedef void *Instance;
typedef void *State;
typedef uint32_t Reference;
typedef const char *String;
typedef const uint8_t *Binary;
typedef bool Clock;
typedef void (*Log)(void *environment, Status status, String category, String message);
typedef void (*Intermediate)(void *environment, double time, bool set, bool get, bool finished, bool early, bool *returned, double *when);

EXPORTED String fmi3GetVersion(void) { return "3.0"; }
EXPORTED Status fmi3SetDebugLogging(Instance c, bool on, size_t n, const String categories[])
{
    (void)c, (void)on, (void)n, (void)categories;
    return OK;
}

static Instance made(String token, void *environment, Log log)
{
    Instance found = new_unit(token);
    if (!found && log)
        log(environment, ERROR, "logStatusError", "the unit is not the one of the model description");
    return found;
}
EXPORTED Instance fmi3InstantiateModelExchange(String name, String token, String place, bool visible, bool logging, void *environment, Log log)
{
    (void)name, (void)place, (void)visible, (void)logging;
    return made(token, environment, log);
}
EXPORTED Instance fmi3InstantiateCoSimulation(String name, String token, String place, bool visible, bool logging, bool events, bool early,
                                              const Reference required[], size_t count, void *environment, Log log, Intermediate update)
{
    (void)name, (void)place, (void)visible, (void)logging, (void)events, (void)early, (void)required, (void)count, (void)update;
    return made(token, environment, log);
}
EXPORTED Instance fmi3InstantiateScheduledExecution(String name, String token, String place, bool visible, bool logging, void *environment,
                                                    Log log, void *clock, void *lock, void *unlock)
{
    (void)name, (void)token, (void)place, (void)visible, (void)logging, (void)environment, (void)log, (void)clock, (void)lock, (void)unlock;
    return NULL;
}
EXPORTED void fmi3FreeInstance(Instance c) { free(c); }

EXPORTED Status fmi3EnterInitializationMode(Instance c, bool has_tolerance, double tolerance, double start, bool has_stop, double stop)
{
    (void)has_stop, (void)stop;
    start_at(c, start, has_tolerance, tolerance);
    return OK;
}
#define NOTHING(function) EXPORTED Status function(Instance c) { (void)c; return OK; }
NOTHING(fmi3ExitInitializationMode)
NOTHING(fmi3EnterEventMode)
NOTHING(fmi3Terminate)
NOTHING(fmi3EnterConfigurationMode)
NOTHING(fmi3ExitConfigurationMode)
NOTHING(fmi3EnterContinuousTimeMode)
NOTHING(fmi3EnterStepMode)
NOTHING(fmi3EvaluateDiscreteStates)
EXPORTED Status fmi3Reset(Instance c) { reset(c); return OK; }

EXPORTED Status fmi3GetFloat64(Instance c, const Reference numbers[], size_t count, double values[], size_t n)
{
    return get_values(c, numbers, count < n ? count : n, values);
}
EXPORTED Status fmi3SetFloat64(Instance c, const Reference numbers[], size_t count, const double values[], size_t n)
{
    return set_values(c, numbers, count < n ? count : n, values);
}
/* the model has variables of this one type */
#define NONE(word, kind) \
    EXPORTED Status fmi3Get##word(Instance c, const Reference numbers[], size_t count, kind values[], size_t n) \
    { (void)c, (void)numbers, (void)values, (void)n; return count ? ERROR : OK; } \
    EXPORTED Status fmi3Set##word(Instance c, const Reference numbers[], size_t count, const kind values[], size_t n) \
    { (void)c, (void)numbers, (void)values, (void)n; return count ? ERROR : OK; }
NONE(Float32, float)
NONE(Int8, int8_t)
NONE(UInt8, uint8_t)
NONE(Int16, int16_t)
NONE(UInt16, uint16_t)
NONE(Int32, int32_t)
NONE(UInt32, uint32_t)
NONE(Int64, int64_t)
NONE(UInt64, uint64_t)
NONE(Boolean, bool)
NONE(String, String)
EXPORTED Status fmi3GetBinary(Instance c, const Reference numbers[], size_t count, size_t sizes[], Binary values[], size_t n)
{
    (void)c, (void)numbers, (void)sizes, (void)values, (void)n;
    return count ? ERROR : OK;
}
EXPORTED Status fmi3SetBinary(Instance c, const Reference numbers[], size_t count, const size_t sizes[], const Binary values[], size_t n)
{
    (void)c, (void)numbers, (void)sizes, (void)values, (void)n;
    return count ? ERROR : OK;
}
EXPORTED Status fmi3GetClock(Instance c, const Reference numbers[], size_t count, Clock values[])
{
    (void)c, (void)numbers, (void)values;
    return count ? ERROR : OK;
}
EXPORTED Status fmi3SetClock(Instance c, const Reference numbers[], size_t count, const Clock values[])
{
    (void)c, (void)numbers, (void)values;
    return count ? ERROR : OK;
}

EXPORTED Status fmi3GetNumberOfVariableDependencies(Instance c, Reference number, size_t *count)
{
    (void)c, (void)number, (void)count;
    return ERROR;
}
EXPORTED Status fmi3GetVariableDependencies(Instance c, Reference dependent, size_t elements[], Reference independents[], size_t others[],
                                            int kinds[], size_t count)
{
    (void)c, (void)dependent, (void)elements, (void)independents, (void)others, (void)kinds, (void)count;
    return ERROR;
}
EXPORTED Status fmi3GetFMUState(Instance c, State *state)
{
    return keep(&((Unit *)c)->values, sizeof(Values), state);
}
EXPORTED Status fmi3SetFMUState(Instance c, State state)
{
    return put_back(c, state);
}
EXPORTED Status fmi3FreeFMUState(Instance c, State *state)
{
    (void)c;
    return forget(state);
}
EXPORTED Status fmi3SerializedFMUStateSize(Instance c, State state, size_t *size)
{
    (void)c, (void)state;
    *size = sizeof(Values);
    return OK;
}
EXPORTED Status fmi3SerializeFMUState(Instance c, State state, uint8_t bytes[], size_t size)
{
    (void)c;
    return as_bytes(state, bytes, size);
}
EXPORTED Status fmi3DeserializeFMUState(Instance c, const uint8_t bytes[], size_t size, State *state)
{
    (void)c;
    return keep(bytes, size, state);
}
#define NO_DERIVATIVE(function) \
    EXPORTED Status function(Instance c, const Reference unknowns[], size_t many, const Reference knowns[], size_t count, \
                             const double seed[], size_t seeds, double result[], size_t results) \
    { (void)c, (void)unknowns, (void)many, (void)knowns, (void)count, (void)seed, (void)seeds, (void)result, (void)results; return ERROR; }
NO_DERIVATIVE(fmi3GetDirectionalDerivative)
NO_DERIVATIVE(fmi3GetAdjointDerivative)

/* there are no clocks */
#define NO_DECIMAL(function, kind) \
    EXPORTED Status function(Instance c, const Reference numbers[], size_t count, kind values[], int qualifiers[]) \
    { (void)c, (void)numbers, (void)values, (void)qualifiers; return count ? ERROR : OK; }
#define NO_SHIFT(function, kind) \
    EXPORTED Status function(Instance c, const Reference numbers[], size_t count, kind values[]) \
    { (void)c, (void)numbers, (void)values; return count ? ERROR : OK; }
#define NO_FRACTION(function, kind) \
    EXPORTED Status function(Instance c, const Reference numbers[], size_t count, kind counters[], kind resolutions[]) \
    { (void)c, (void)numbers, (void)counters, (void)resolutions; return count ? ERROR : OK; }
NO_DECIMAL(fmi3GetIntervalDecimal, double)
NO_SHIFT(fmi3SetIntervalDecimal, const double)
NO_SHIFT(fmi3GetShiftDecimal, double)
NO_SHIFT(fmi3SetShiftDecimal, const double)
NO_FRACTION(fmi3SetIntervalFraction, const uint64_t)
NO_FRACTION(fmi3GetShiftFraction, uint64_t)
NO_FRACTION(fmi3SetShiftFraction, const uint64_t)
EXPORTED Status fmi3GetIntervalFraction(Instance c, const Reference numbers[], size_t count, uint64_t counters[], uint64_t resolutions[],
                                        int qualifiers[])
{
    (void)c, (void)numbers, (void)counters, (void)resolutions, (void)qualifiers;
    return count ? ERROR : OK;
}
EXPORTED Status fmi3UpdateDiscreteStates(Instance c, bool *again, bool *terminate, bool *nominals, bool *states, bool *next_defined, double *next)
{
    (void)c;
    *again = *terminate = *nominals = *states = *next_defined = false;
    *next = 0.0;
    return OK;
}
EXPORTED Status fmi3ActivateModelPartition(Instance c, Reference clock, double time)
{
    (void)c, (void)clock, (void)time;
    return ERROR;
}

/* model exchange */
EXPORTED Status fmi3CompletedIntegratorStep(Instance c, bool no_set_state, bool *enter_events, bool *terminate)
{
    (void)c, (void)no_set_state;
    *enter_events = *terminate = false;
    return OK;
}
EXPORTED Status fmi3SetTime(Instance c, double time)
{
    ((Unit *)c)->values.time = time;
    return OK;
}
EXPORTED Status fmi3SetContinuousStates(Instance c, const double x[], size_t count)
{
    return set_states(c, x, count);
}
EXPORTED Status fmi3GetContinuousStates(Instance c, double x[], size_t count)
{
    return get_states(c, x, count);
}
EXPORTED Status fmi3GetContinuousStateDerivatives(Instance c, double rates[], size_t count)
{
    return get_rates(c, rates, count);
}
EXPORTED Status fmi3GetEventIndicators(Instance c, double indicators[], size_t count)
{
    return get_events(c, indicators, count);
}
EXPORTED Status fmi3GetNominalsOfContinuousStates(Instance c, double nominals[], size_t count)
{
    (void)c;
    return get_nominals(nominals, count);
}
EXPORTED Status fmi3GetNumberOfEventIndicators(Instance c, size_t *count)
{
    (void)c;
    *count = EVENTS;
    return OK;
}
EXPORTED Status fmi3GetNumberOfContinuousStates(Instance c, size_t *count)
{
    (void)c;
    *count = STATES;
    return OK;
}

/* co-simulation */
EXPORTED Status fmi3GetOutputDerivatives(Instance c, const Reference numbers[], size_t count, const int orders[], double values[], size_t n)
{
    (void)c, (void)numbers, (void)orders, (void)values, (void)n;
    return count ? ERROR : OK;
}
EXPORTED Status fmi3DoStep(Instance c, double time, double length, bool final, bool *events, bool *terminate, bool *early, double *last)
{
    Unit *unit = c;
    (void)final;
    unit->values.time = time;
    *events = *terminate = *early = false;
    if (!advance(unit, length))
        return ERROR;
    *last = unit->values.time;
    return OK;
}
