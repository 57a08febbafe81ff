// The Answer: everything that follows from a Model, the fields and what is judged of them. Made once by solve() and
// never changed; shared by all views.
#pragma once
#include "core/judge/judge.h"

namespace mossbed {

struct Answer : Fields, Judgement {
    Answer(Fields fields, Judgement judged) : Fields(std::move(fields)), Judgement(std::move(judged)) {}
    double seconds = 0;  // the whole solution
};

}  // namespace mossbed
