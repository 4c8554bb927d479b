/* Temperature functions of cubic equations of state: models/alpha/ at one temperature. */
#ifndef SLEETFIELD_ALPHA_H
#define SLEETFIELD_ALPHA_H

enum { SOAVE, REDLICH_KWONG, TWU, MATHIAS_COPEMAN, WITH_WATER, ALPHAS };

typedef struct {
    int kind, c;
    const double *constants; /* one row of c numbers after the other */
    const double *Tc;        /* K */
} Alpha;

/* How many rows of constants a kind has. */
int alpha_constants(int kind);
/* sqrt(alpha) of each component. */
void alpha_values(const Alpha *alpha, double T, double *values);
/* Its first two derivatives by temperature. */
void alpha_slopes(const Alpha *alpha, double T, double *first, double *second);

#endif
