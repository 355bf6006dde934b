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
    void *environment;
} Unit;

static inline void reset(Unit *unit)
{
    memset(&unit->values, 0, sizeof unit->values);
    unit->values.tolerance = TOLERANCE;
    memcpy(unit->values.state, model_start, sizeof unit->values.state);
    memcpy(unit->values.parameters, model_defaults, sizeof unit->values.parameters);
}

static inline Unit *new_unit(const char *token, void *environment)
{
    Unit *unit = token && !strcmp(token, MODEL_TOKEN) ? malloc(sizeof *unit) : NULL;
    if (unit) {
        unit->environment = environment;
        reset(unit);
    }
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
