// The terms of a row's working: known, or written when somebody first reads them. Thousands of places are judged and a
// few are looked at; what nobody reads costs neither time nor memory. It is the same code that judged and that writes,
// so that the derivation cannot drift from the number.
#pragma once
#include <functional>
#include <memory>
#include <mutex>
#include <vector>

#include "core/working/terms.h"

namespace mossbed {

// Copies share what is written. Any threads may read at the same time.
class Derivation {
  public:
    using Write = std::function<std::vector<Term>()>;  // owns what it looks at; called once
    Derivation() = default;
    Derivation(std::vector<Term> terms) : state_(std::make_shared<State>()) { state_->terms = std::move(terms); }
    explicit Derivation(Write write) : state_(std::make_shared<State>()) { state_->write = std::move(write); }

    const std::vector<Term>& terms() const {
        static const std::vector<Term> none;
        if (!state_) return none;
        std::call_once(state_->once, [this] {
            if (!state_->write) return;
            state_->terms = state_->write();
            state_->write = nullptr;
        });
        return state_->terms;
    }
    auto begin() const { return terms().begin(); }
    auto end() const { return terms().end(); }
    bool empty() const { return terms().empty(); }
    size_t size() const { return terms().size(); }

  private:
    struct State {
        std::once_flag once;
        Write write;  // until it is read
        std::vector<Term> terms;
    };
    std::shared_ptr<State> state_;
};

}  // namespace mossbed
