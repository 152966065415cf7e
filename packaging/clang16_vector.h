// For clang-tidy alone, read before each source: clang 16 wants the values of libstdc++'s vector whole where one is
// named, because it can compute while it compiles; qpdf's JSON has one that are not yet. Here vector cannot.
#pragma once
#include <bits/stl_uninitialized.h>
#include <string>
#undef _GLIBCXX20_CONSTEXPR
#define _GLIBCXX20_CONSTEXPR
#include <bits/stl_vector.h>
#define __fill_a1 __fill_a1_of_bits
#include <bits/stl_bvector.h>
#undef __fill_a1
#include <bits/vector.tcc>
#undef _GLIBCXX20_CONSTEXPR
#define _GLIBCXX20_CONSTEXPR constexpr
