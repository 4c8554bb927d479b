/* Loops over components that are compiled for wider registers too, and run there where the processor has them: the same sums in the same order, so that
   results don't depend on it. */
#ifndef SLEETFIELD_WIDE_H
#define SLEETFIELD_WIDE_H

#if defined(__GNUC__) && !defined(__clang__) && defined(__x86_64__) && defined(__gnu_linux__)
#define WIDE __attribute__((target_clones("avx2", "default")))
#else
#define WIDE
#endif

/* Four numbers that are reckoned with at once where the compiler knows how to write that. */
#if defined(__GNUC__)
typedef double Four __attribute__((vector_size(32), aligned(8), may_alias));
#define FOUR_PLUS(a, b) ((a) + (b))
#define FOUR_TIMES(a, b) ((a) * (b))
#define FOUR_PRODUCTS(a, b) ((a) * (b))
#else
typedef struct {
    double of[4];
} Four;
static inline Four FOUR_PLUS(Four a, Four b)
{
    for (int k = 0; k < 4; k++) a.of[k] += b.of[k];
    return a;
}
static inline Four FOUR_TIMES(double a, Four b)
{
    for (int k = 0; k < 4; k++) b.of[k] *= a;
    return b;
}
static inline Four FOUR_PRODUCTS(Four a, Four b)
{
    for (int k = 0; k < 4; k++) a.of[k] *= b.of[k];
    return a;
}
#endif

#endif
