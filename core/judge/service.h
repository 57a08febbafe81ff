// What the judges of service combinations share.
#pragma once
#include "core/judge/checks.h"

namespace mossbed {

template <class F>
void each_service(const Fields& a, F f) {
    for (const CombinationAnswer& c : a.combinations)
        if (c.combination.purpose == Purpose::service && c.is_solved()) f(c);
}

inline bool has_service(const Fields& a) {
    bool any = false;
    each_service(a, [&](const CombinationAnswer&) { any = true; });
    return any;
}
constexpr const char* no_service = "There is no solved service combination to check it with.";

}  // namespace mossbed
