/* A motion as a table: ./simulate END ROWS [fixed STEPS], NAME=VALUE for parameters and for states at the beginning. */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "integrate.h"
#include "model.h"

struct setting {
    double inputs[ROOM(INPUTS)], parameters[ROOM(PARAMETERS)];
};

static void rates(double time, const double *state, double *result, const void *context)
{
    const struct setting *setting = context;
    model_rates(time, state, setting->inputs, setting->parameters, result);
}

static int put(const char *word, const char *const *names, int count, double *values)
{
    const char *sign = strchr(word, '=');
    int k;
    for (k = 0; sign && k < count; k++)
        if (strlen(names[k]) == (size_t)(sign - word) && !strncmp(names[k], word, (size_t)(sign - word))) {
            values[k] = atof(sign + 1);
            return 1;
        }
    return 0;
}

static void row(double time, const double *state, const struct setting *setting)
{
    double outputs[ROOM(OUTPUTS)];
    int k;
    model_outputs(time, state, setting->inputs, setting->parameters, outputs);
    printf("%.17g", time);
    for (k = 0; k < STATES; k++)
        printf(",%.17g", state[k]);
    for (k = 0; k < OUTPUTS; k++)
        printf(",%.17g", outputs[k]);
    printf("\n");
}

int main(int count, char **words)
{
    struct setting setting;
    double state[ROOM(STATES)], time = 0.0, step = 0.0, end = 10.0;
    int rows = 100, steps = 0, place = 0, k;
    memset(&setting, 0, sizeof setting);
    memcpy(state, model_start, sizeof state);
    memcpy(setting.parameters, model_defaults, sizeof setting.parameters);
    for (k = 1; k < count; k++) {
        if (strchr(words[k], '=')) {
            if (!put(words[k], model_state_names, STATES, state) && !put(words[k], model_parameter_names, PARAMETERS, setting.parameters)
                && !put(words[k], model_input_names, INPUTS, setting.inputs)) {
                fprintf(stderr, "%s: no state, parameter or input has that name\n", words[k]);
                return 2;
            }
        } else if (!strcmp(words[k], "fixed") && k + 1 < count) {
            steps = atoi(words[++k]);
        } else if (place == 0) {
            end = atof(words[k]);
            place++;
        } else {
            rows = atoi(words[k]);
        }
    }
    if (!(end > 0.0) || rows < 1 || steps < 0) {
        fprintf(stderr, "usage: %s END ROWS [fixed STEPS] [NAME=VALUE ...]\n", words[0]);
        return 2;
    }
    printf("time");
    for (k = 0; k < STATES; k++)
        printf(",%s", model_state_names[k]);
    for (k = 0; k < OUTPUTS; k++)
        printf(",%s", model_output_names[k]);
    printf("\n");
    row(time, state, &setting);
    for (k = 1; k <= rows; k++) {
        const double next = end*k/rows;
        if (steps) {
            const double begin = time;
            int i;
            for (i = 0; i < steps; i++) {
                step_fixed(rates, &setting, &time, state, (next - begin)/steps);
                time = begin + (next - begin)*(i + 1)/steps;
            }
        } else if (integrate(rates, &setting, &time, next, state, 1e-9, 1e-12, &step) < 0) {
            fprintf(stderr, "no step is small enough at time %.17g\n", time);
            return 1;
        }
        row(time, state, &setting);
    }
    return 0;
}
