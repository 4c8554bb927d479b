/* Loops over components that are compiled for wider registers too, and run there where the processor has them: the same sums in the same order, so that
   results don't depend on it. */
#ifndef SLEETFIELD_WIDE_H
#define SLEETFIELD_WIDE_H

#if defined(__GNUC__) && !defined(__clang__) && defined(__x86_64__) && defined(__gnu_linux__)
#define WIDE __attribute__((target_clones("avx2", "default")))
#else
#define WIDE
#endif

#endif
