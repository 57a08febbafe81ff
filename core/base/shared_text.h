// A text that copies of its owner share: a model is copied at every edit, its notes may be long.
#pragma once
#include <memory>
#include <string>

namespace mossbed {

class SharedText {
  public:
    SharedText() = default;
    SharedText(std::string text)
        : text_(text.empty() ? nullptr : std::make_shared<const std::string>(std::move(text))) {}
    SharedText(const char* text) : SharedText(std::string(text)) {}
    const std::string& str() const {
        static const std::string none;
        return text_ ? *text_ : none;
    }
    bool empty() const { return !text_; }
    bool operator==(const SharedText& o) const { return text_ == o.text_ || str() == o.str(); }

  private:
    std::shared_ptr<const std::string> text_;
};

}  // namespace mossbed
