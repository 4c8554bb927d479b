/* How Newton's method gets on: newton.py's rules of when a system goes on. */
#ifndef SLEETFIELD_PROGRESS_H
#define SLEETFIELD_PROGRESS_H

#include <math.h>

typedef struct {
    double least, halved; /* the least error so far, and that which has to be halved next */
    int since;            /* whole steps since then */
} Progress;

static inline Progress at_the_start(void)
{
    const Progress p = {HUGE_VAL, HUGE_VAL, 0};
    return p;
}

/* Takes note of an error; whether it is the least so far. */
static inline int noted(Progress *p, double error)
{
    if (error < 0.5 * p->halved) {
        p->halved = error;
        p->since = 0;
    } else
        p->since++;
    if (!(error < p->least)) return 0;
    p->least = error;
    return 1;
}

static inline int goes_on(const Progress *p, double enough, int patience)
{
    return p->least > enough && p->since < patience;
}

#endif
