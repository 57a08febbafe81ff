// The words that a model may hold in some places, each set an enumeration with its words beside it. Files and lists of
// choices are made from these tables alone.
#pragma once
#include <array>
#include <optional>
#include <string>
#include <string_view>

namespace mossbed {

template <class E>
struct Words;  // `all`: in the order of the enumerators

enum class GroundModel : char { uniform, patches, profile, coupled };
template <>
struct Words<GroundModel> {
    static constexpr std::array all{"uniform", "patches", "profile", "coupled"};
};
enum class SettlementMethod : char { elastic, one_dimensional };
template <>
struct Words<SettlementMethod> {
    static constexpr std::array all{"elastic", "one-dimensional"};
};
// What the allowable pressure is compared with: the contact pressure, or what of it is more than was dug out.
enum class AllowableIs : char { gross, net };
template <>
struct Words<AllowableIs> {
    static constexpr std::array all{"gross", "net"};
};
// How safety enters a bearing resistance that is worked out from strengths: one factor on it, or an approach of EN
// 1997-1 2.4.7.3.4.
enum class Approach : char { global_factor, DA1, DA2, DA3 };
template <>
struct Words<Approach> {
    static constexpr std::array all{"global", "DA1", "DA2", "DA3"};
};
enum class Flush : char { top, middle, bottom };
template <>
struct Words<Flush> {
    static constexpr std::array all{"top", "middle", "bottom"};
};
// What a rib does where its path crosses an opening.
enum class OverOpenings : char { stop, carry };
template <>
struct Words<OverOpenings> {
    static constexpr std::array all{"stop", "carry"};
};
enum class ColumnShape : char { rectangle, circle };
template <>
struct Words<ColumnShape> {
    static constexpr std::array all{"rectangle", "circle"};
};
enum class Action : char { permanent, imposed, wind, snow, seismic, fluid, groundwater, soil, other };
template <>
struct Words<Action> {
    static constexpr std::array all{"permanent", "imposed",     "wind", "snow", "seismic",
                                    "fluid",     "groundwater", "soil", "other"};
};
enum class Purpose : char { service, strength, stability, trace };
template <>
struct Words<Purpose> {
    static constexpr std::array all{"service", "strength", "stability", "trace"};
};
enum class Frequency : char { characteristic, frequent, quasi_permanent };
template <>
struct Words<Frequency> {
    static constexpr std::array all{"characteristic", "frequent", "quasi-permanent"};
};
enum class Safety : char { global, partial };
template <>
struct Words<Safety> {
    static constexpr std::array all{"global", "partial"};
};
enum class Face : char { top, bottom };
template <>
struct Words<Face> {
    static constexpr std::array all{"top", "bottom"};
};
enum class Direction : char { x, y };
template <>
struct Words<Direction> {
    static constexpr std::array all{"x", "y"};
};
// What bars are designed by: strips as laid out or drawn, or moments by points, averaged over a stated width.
enum class DesignedBy : char { strips, points };
template <>
struct Words<DesignedBy> {
    static constexpr std::array all{"strips", "points"};
};
enum class UnitSystem : char { metric, us };
template <>
struct Words<UnitSystem> {
    static constexpr std::array all{"metric", "us"};
};

template <class E>
concept HasWords = requires {
    Words<E>::all;
};

template <HasWords E>
constexpr const char* name_of(E e) {
    return Words<E>::all[size_t(e)];
}
template <HasWords E>
constexpr std::optional<E> from_word(std::string_view word) {
    for (size_t i = 0; i < Words<E>::all.size(); ++i)
        if (Words<E>::all[i] == word) return E(i);
    return std::nullopt;
}
template <HasWords E>
std::string words_to_choose() {  // "top", "middle", "bottom"
    std::string list;
    for (const char* w : Words<E>::all) list += (list.empty() ? "\"" : ", \"") + std::string(w) + "\"";
    return list;
}

}  // namespace mossbed
