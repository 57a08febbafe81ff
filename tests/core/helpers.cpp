#include "tests/core/helpers.h"

#include <filesystem>

namespace mossbed::testing {
Page::~Page() {
    std::filesystem::create_directories(VERIFICATION_DIR);
    std::ofstream(std::string(VERIFICATION_DIR) + "/" + file_) << text_ << words_ << rows_;
}
}  // namespace mossbed::testing
