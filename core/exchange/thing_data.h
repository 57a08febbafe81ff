// The plain fields of a thing (numbers, words, switches) as texts by key, as a drawing carries them in its extended
// data: what geometry does not say.
#pragma once
#include <fmt/format.h>

#include <charconv>

#include "core/model/fields.h"
#include "core/model/words.h"

namespace mossbed {

using ThingData = std::map<std::string, std::string>;

template <class T>
concept WordsOfFile = requires {
    Words<T>::all;
};

// Writes into `out`, or sets from it what stands there.
class ThingDataVisitor {
  public:
    ThingDataVisitor(ThingData& data, bool reads) : data_(data), reads_(reads) {}
    template <class T>
    void operator()(const char* key, T& member, const Facts& = {}) {
        if constexpr (std::is_same_v<T, double>) {
            if (!reads_)
                data_[key] = fmt::format("{}", member);
            else if (const auto v = number(key))
                member = *v;
        } else if constexpr (std::is_same_v<T, std::optional<double>>) {
            if (!reads_ && member) data_[key] = fmt::format("{}", *member);
            if (reads_ && data_.count(key)) member = number(key);
        } else if constexpr (std::is_same_v<T, bool>) {
            if (!reads_)
                data_[key] = member ? "true" : "false";
            else if (const auto it = data_.find(key); it != data_.end())
                member = it->second == "true";
        } else if constexpr (std::is_same_v<T, std::string>) {
            text(key, member);
        } else if constexpr (std::is_same_v<T, std::optional<std::string>>) {
            if (!reads_ && member) data_[key] = *member;
            if (const auto it = data_.find(key); reads_ && it != data_.end()) member = it->second;
        } else if constexpr (std::is_enum_v<T> && WordsOfFile<T>) {
            constexpr auto& all = Words<T>::all;
            if (!reads_) {
                data_[key] = all[size_t(member)];
            } else if (const auto it = data_.find(key); it != data_.end()) {
                for (size_t k = 0; k < all.size(); ++k)
                    if (it->second == all[k]) member = T(k);
            }
        }  // the rest is geometry
    }
    template <class T, class A>
    void choice(const char* key, T& member, const A&, const Facts& = {}) {
        text(key, member);
    }
    template <class... A>
    void raw(A&&...) {}
    template <class F>
    void group(const char* key, Keys&, F each) {
        Inside inside{*this, std::string(key) + "/"};
        each(inside);
    }
    void id(std::string& id) { text("id", id); }

  private:
    struct Inside {  // keys below another
        ThingDataVisitor& of;
        std::string prefix;
        template <class T>
        void operator()(const char* key, T& member, const Facts& = {}) {
            of((prefix + key).c_str(), member);
        }
    };
    void text(const char* key, std::string& member) {
        if (!reads_)
            data_[key] = member;
        else if (const auto it = data_.find(key); it != data_.end())
            member = it->second;
    }
    std::optional<double> number(const char* key) const {
        const auto it = data_.find(key);
        if (it == data_.end()) return {};
        double v = 0;
        const auto [end, error] = std::from_chars(it->second.data(), it->second.data() + it->second.size(), v);
        if (error != std::errc() || end != it->second.data() + it->second.size() || !std::isfinite(v)) return {};
        return v;
    }
    ThingData& data_;
    bool reads_;
};

template <class T>
ThingData data_of(T thing) {
    ThingData out;
    ThingDataVisitor v(out, false);
    fields(v, thing);
    return out;
}
template <class T>
void set_data(T& thing, ThingData data) {
    ThingDataVisitor v(data, true);
    fields(v, thing);
}

}  // namespace mossbed
