// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

/// A function with this is built twice, once for processors with vectors of four doubles, and the program
/// takes the one that fits when it starts. Both give the same bits: no multiplication is fused with an
/// addition. Only for loops over rows of numbers; elsewhere, and under the sanitizers, it is a word without
/// meaning.
#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__) && !defined(__SANITIZE_ADDRESS__) &&     \
    defined(__OPTIMIZE__)
#define WHEELWRIGHT_WIDE __attribute__((target_clones("avx2", "default")))
#else
#define WHEELWRIGHT_WIDE
#endif
