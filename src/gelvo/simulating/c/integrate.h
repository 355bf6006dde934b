/* Steps of an integration: four stages of a fixed length (W. Kutta, 1901), and a pair of orders 5 and 4 with steps of its own choice
 * (J. R. Dormand, P. J. Prince, "A family of embedded Runge-Kutta formulae", 1980). */
#ifndef INTEGRATE_H
#define INTEGRATE_H

#include <math.h>
#include <string.h>

#include "model.h"

typedef void (*rates_function)(double time, const double *state, double *rates, const void *context);

/* one step of a fixed length */
static inline void step_fixed(rates_function rates, const void *context, double *time, double *state, double step)
{
    double first[ROOM(STATES)], second[ROOM(STATES)], third[ROOM(STATES)], fourth[ROOM(STATES)], place[ROOM(STATES)];
    int i;
    rates(*time, state, first, context);
    for (i = 0; i < STATES; i++)
        place[i] = state[i] + 0.5*step*first[i];
    rates(*time + 0.5*step, place, second, context);
    for (i = 0; i < STATES; i++)
        place[i] = state[i] + 0.5*step*second[i];
    rates(*time + 0.5*step, place, third, context);
    for (i = 0; i < STATES; i++)
        place[i] = state[i] + step*third[i];
    rates(*time + step, place, fourth, context);
    for (i = 0; i < STATES; i++)
        state[i] += step*(first[i] + 2.0*(second[i] + third[i]) + fourth[i])/6.0;
    *time += step;
}

/* Up to an end, with an error of a step below relative*|state| + absolute; step: where to begin, and where it left off.
 * Returns the number of steps, or -1 where no step is small enough. */
static inline long integrate(rates_function rates, const void *context, double *time, double end, double *state, double relative,
                             double absolute, double *step)
{
    static const double when[7] = {0.0, 1.0/5.0, 3.0/10.0, 4.0/5.0, 8.0/9.0, 1.0, 1.0};
    static const double weight[7][6] = {
        {0.0},
        {1.0/5.0},
        {3.0/40.0, 9.0/40.0},
        {44.0/45.0, -56.0/15.0, 32.0/9.0},
        {19372.0/6561.0, -25360.0/2187.0, 64448.0/6561.0, -212.0/729.0},
        {9017.0/3168.0, -355.0/33.0, 46732.0/5247.0, 49.0/176.0, -5103.0/18656.0},
        {35.0/384.0, 0.0, 500.0/1113.0, 125.0/192.0, -2187.0/6784.0, 11.0/84.0},
    };
    static const double error_weight[7] = {71.0/57600.0, 0.0, -71.0/16695.0, 71.0/1920.0, -17253.0/339200.0, 22.0/525.0, -1.0/40.0};
    double slope[7][ROOM(STATES)], place[ROOM(STATES)];
    long taken = 0;
    int i, j, stage;
    if (!(*step > 0.0))
        *step = (end - *time)/100.0;
    rates(*time, state, slope[0], context);
    while (*time < end) {
        double worst = 0.0, factor;
        const double left = end - *time;
        const int is_last = *step >= left;
        const double length = is_last ? left : *step;
        for (stage = 1; stage < 7; stage++) {
            for (i = 0; i < STATES; i++) {
                double sum = 0.0;
                for (j = 0; j < stage; j++)
                    sum += weight[stage][j]*slope[j][i];
                place[i] = state[i] + length*sum;
            }
            rates(*time + when[stage]*length, place, slope[stage], context);
        }
        for (i = 0; i < STATES; i++) {
            double sum = 0.0, ratio;
            for (stage = 0; stage < 7; stage++)
                sum += error_weight[stage]*slope[stage][i];
            ratio = fabs(length*sum)/(absolute + relative*fmax(fabs(state[i]), fabs(place[i])));
            worst = isfinite(ratio) ? fmax(worst, ratio) : HUGE_VAL;
        }
        if (worst <= 1.0) {
            *time = is_last ? end : *time + length;
            memcpy(state, place, sizeof place);
            memcpy(slope[0], slope[6], sizeof slope[0]);
            taken++;
        }
        factor = worst > 0.0 ? 0.9*pow(worst, -0.2) : 5.0;
        if (worst > 1.0 || !is_last)
            *step = length*fmin(5.0, fmax(0.2, factor));
        if (worst > 1.0 && *step < 1e-14*fmax(fabs(*time), fabs(end)) + 1e-300)
            return -1;
    }
    return taken;
}

#endif
