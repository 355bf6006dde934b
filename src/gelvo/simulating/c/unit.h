/* What a unit of the Functional Mock-up Interface is, whatever the version: an instance, its variables by number, and a step. */
#ifndef UNIT_H
#define UNIT_H

#include <stdlib.h>
#include <string.h>

#include "integrate.h"
#include "model.h"

#if defined _WIN32
#define EXPORTED __declspec(dllexport)
#else
#define EXPORTED __attribute__((visibility("default")))
#endif

/* numbers of variables: the time, states, their rates, parameters, inputs, outputs, event indicators */
#define FIRST_STATE 1
#define FIRST_RATE (FIRST_STATE + STATES)
#define FIRST_PARAMETER (FIRST_RATE + STATES)
#define FIRST_INPUT (FIRST_PARAMETER + PARAMETERS)
#define FIRST_OUTPUT (FIRST_INPUT + INPUTS)
#define FIRST_EVENT (FIRST_OUTPUT + OUTPUTS)
#define VARIABLES (FIRST_EVENT + EVENTS)
#define TOLERANCE 1e-9

typedef struct {
    double time, step, tolerance;
    double state[ROOM(STATES)], parameters[ROOM(PARAMETERS)], inputs[ROOM(INPUTS)];
} Values;

typedef struct {
    Values values;
} Unit;

/* what a function of the interface returns, in both versions */
typedef enum { OK, WARNING, DISCARD, ERROR, FATAL, PENDING } Status;

static inline void reset(Unit *unit)
{
    memset(&unit->values, 0, sizeof unit->values);
    unit->values.tolerance = TOLERANCE;
    memcpy(unit->values.state, model_start, sizeof unit->values.state);
    memcpy(unit->values.parameters, model_defaults, sizeof unit->values.parameters);
}

static inline Unit *new_unit(const char *token)
{
    Unit *unit = token && !strcmp(token, MODEL_TOKEN) ? malloc(sizeof *unit) : NULL;
    if (unit)
        reset(unit);
    return unit;
}

static inline int get_value(const Unit *unit, unsigned number, double *value)
{
    const Values *v = &unit->values;
    const int n = number < VARIABLES ? (int)number : -1;
    double found[ROOM(STATES) + ROOM(OUTPUTS) + ROOM(EVENTS)];
    if (n < 0)
        return 0;
    if (n == 0)
        *value = v->time;
    else if (n < FIRST_RATE)
        *value = v->state[n - FIRST_STATE];
    else if (n < FIRST_PARAMETER) {
        model_rates(v->time, v->state, v->inputs, v->parameters, found);
        *value = found[n - FIRST_RATE];
    } else if (n < FIRST_INPUT)
        *value = v->parameters[n - FIRST_PARAMETER];
    else if (n < FIRST_OUTPUT)
        *value = v->inputs[n - FIRST_INPUT];
    else if (n < FIRST_EVENT) {
        model_outputs(v->time, v->state, v->inputs, v->parameters, found);
        *value = found[n - FIRST_OUTPUT];
    } else {
        model_events(v->time, v->state, v->inputs, v->parameters, found);
        *value = found[n - FIRST_EVENT];
    }
    return 1;
}

static inline int set_value(Unit *unit, unsigned number, double value)
{
    Values *v = &unit->values;
    const int n = number < VARIABLES ? (int)number : -1;
    if (n >= FIRST_STATE && n < FIRST_RATE)
        v->state[n - FIRST_STATE] = value;
    else if (n >= FIRST_PARAMETER && n < FIRST_INPUT)
        v->parameters[n - FIRST_PARAMETER] = value;
    else if (n >= FIRST_INPUT && n < FIRST_OUTPUT)
        v->inputs[n - FIRST_INPUT] = value;
    else
        return 0;
    return 1;
}

static inline Status get_values(const Unit *unit, const unsigned *numbers, size_t count, double *values)
{
    size_t k;
    for (k = 0; k < count; k++)
        if (!get_value(unit, numbers[k], &values[k]))
            return ERROR;
    return OK;
}

static inline Status set_values(Unit *unit, const unsigned *numbers, size_t count, const double *values)
{
    size_t k;
    for (k = 0; k < count; k++)
        if (!set_value(unit, numbers[k], values[k]))
            return ERROR;
    return OK;
}

static inline Status set_states(Unit *unit, const double *x, size_t count)
{
    if (count != STATES)
        return ERROR;
    memcpy(unit->values.state, x, count*sizeof *x);
    return OK;
}

static inline Status get_states(const Unit *unit, double *x, size_t count)
{
    if (count != STATES)
        return ERROR;
    memcpy(x, unit->values.state, count*sizeof *x);
    return OK;
}

static inline Status get_rates(const Unit *unit, double *rates, size_t count)
{
    const Values *v = &unit->values;
    if (count != STATES)
        return ERROR;
    model_rates(v->time, v->state, v->inputs, v->parameters, rates);
    return OK;
}

static inline Status get_events(const Unit *unit, double *indicators, size_t count)
{
    const Values *v = &unit->values;
    if (count != EVENTS)
        return ERROR;
    model_events(v->time, v->state, v->inputs, v->parameters, indicators);
    return OK;
}

static inline Status get_nominals(double *nominals, size_t count)
{
    size_t k;
    for (k = 0; k < count; k++)
        nominals[k] = 1.0;
    return OK;
}

/* states of the unit that are kept aside: values, as they are or as bytes */
static inline Status keep(const void *values, size_t size, void **kept)
{
    if (size < sizeof(Values) || (!*kept && !(*kept = malloc(sizeof(Values)))))
        return ERROR;
    memcpy(*kept, values, sizeof(Values));
    return OK;
}

static inline Status put_back(Unit *unit, const void *kept)
{
    memcpy(&unit->values, kept, sizeof(Values));
    return OK;
}

static inline Status forget(void **kept)
{
    free(*kept);
    *kept = NULL;
    return OK;
}

static inline Status as_bytes(const void *kept, void *bytes, size_t size)
{
    if (size < sizeof(Values))
        return ERROR;
    memcpy(bytes, kept, sizeof(Values));
    return OK;
}

static inline void start_at(Unit *unit, double time, int has_tolerance, double tolerance)
{
    unit->values.time = time;
    if (has_tolerance && tolerance > 0.0)
        unit->values.tolerance = tolerance;
}

static inline void unit_rates(double time, const double *state, double *rates, const void *context)
{
    const Values *v = context;
    model_rates(time, state, v->inputs, v->parameters, rates);
}

static inline int advance(Unit *unit, double length)
{
    Values *v = &unit->values;
    const double tolerance = v->tolerance;
    return integrate(unit_rates, v, &v->time, v->time + length, v->state, tolerance, 1e-3*tolerance, &v->step) >= 0;
}

#endif
