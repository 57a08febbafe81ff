// Columns by their names, where many are looked for; of two with one name the first.
#pragma once
#include <string_view>
#include <unordered_map>

#include "core/model/model.h"

namespace mossbed {

class ColumnsById {
  public:
    explicit ColumnsById(const std::vector<Column>& columns) {
        for (const Column& c : columns) by_id_.try_emplace(c.id, &c);
    }
    const Column* find(std::string_view id) const {
        const auto it = by_id_.find(id);
        return it == by_id_.end() ? nullptr : it->second;
    }

  private:
    std::unordered_map<std::string_view, const Column*> by_id_;
};

}  // namespace mossbed
