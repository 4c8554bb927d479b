/* The binary interaction parameters in mixing rules: models/attraction.py at one temperature. */
#ifndef SLEETFIELD_ATTRACTION_H
#define SLEETFIELD_ATTRACTION_H

#define MOST_TEMPERATURE_TERMS 5 /* of models/temperature_terms.py */

typedef struct {
    int c, terms, term[MOST_TEMPERATURE_TERMS];
    const double *pairs; /* 1 - k_ij as coefficients of those functions of temperature, terms x c x c */
} Attraction;

/* 1 - k_ij, c x c, or a derivative of it by temperature, the first or second. */
void attraction_at(const Attraction *attraction, int derivative, double T, double *out);

#endif
