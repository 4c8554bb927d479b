#include "abreast.h"

#include "wide.h"

#include <stddef.h>

/* Whole at once: what is written in pieces is slow to read as one. */
WIDE static void woven(int c, const double *one, const double *two, const double *three, const double *four, Four *out)
{
    for (int i = 0; i < c; i++) out[i] = (Four){one[i], two[i], three[i], four[i]};
}

void side_by_side(int c, const double *const *lists, double *out)
{
    woven(c, lists[0], lists[1], lists[2], lists[3], (Four *)out);
}

void ln_phi_of_both(const Phase *m, const double *x, int kind_x, double *phi_x, const double *y, int kind_y, double *phi_y)
{
    if (m->abreast == NULL) {
        m->ln_phi(m, x, kind_x, phi_x);
        m->ln_phi(m, y, kind_y, phi_y);
        return;
    }
    const double *const lists[ABREAST] = {x, y, x, y};
    const int kinds[ABREAST] = {kind_x, kind_y, kind_x, kind_y};
    double both[MOST_COMPONENTS * ABREAST], out[MOST_COMPONENTS * ABREAST];
    side_by_side(m->c, lists, both);
    m->abreast(m, both, kinds, out);
    for (int i = 0; i < m->c; i++) {
        phi_x[i] = out[i * ABREAST];
        phi_y[i] = out[i * ABREAST + 1];
    }
}
