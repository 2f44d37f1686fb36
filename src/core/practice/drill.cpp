#include "core/practice/drill.h"

#include "core/base/units.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <sstream>

namespace kite {

namespace {

constexpr std::array<std::pair<PracticePlace, std::string_view>, 2> kPlaces{
    {{PracticePlace::Indoors, "indoors"}, {PracticePlace::Range, "range"}}};

std::string lower(std::string text) {
    for (char& c : text)
        c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return text;
}

bool has(const std::vector<std::string>& list, const std::string& one) {
    return std::find(list.begin(), list.end(), one) != list.end();
}

/// All that is said of a drill, for a search.
std::string all_words(const Drill& drill) {
    std::string out = drill.title + " " + drill.purpose + " " + drill.set_up + " " + drill.feel +
                      " " + drill.check;
    for (const auto* list : {&drill.needs, &drill.steps, &drill.faults})
        for (const std::string& one : *list)
            out += " " + one;
    return lower(out);
}

} // namespace

std::string_view key_of(PracticePlace place) {
    return kPlaces.at(static_cast<std::size_t>(place)).second;
}

std::optional<PracticePlace> find_practice_place(std::string_view key) {
    for (const auto& [place, name] : kPlaces)
        if (name == key)
            return place;
    return std::nullopt;
}

bool DrillBand::holds(double value) const {
    return std::isfinite(value) && !(value < from) && !(value > to);
}

bool Drill::is_for(const std::string& fault) const {
    return has(faults, fault);
}

bool Drill::can_be_done(PracticePlace place) const {
    return std::find(places.begin(), places.end(), place) != places.end();
}

const Drill* DrillBook::find(const std::string& id) const {
    const auto found = std::find_if(drills.begin(), drills.end(),
                                    [&](const Drill& drill) { return drill.id == id; });
    return found == drills.end() ? nullptr : &*found;
}

const Drill* DrillBook::find(const std::string& id, const std::string& fault) const {
    const auto found = counted.find({fault, id});
    return found == counted.end() ? find(id) : &found->second;
}

void DrillBook::settle() {
    counted.clear();
    for (const auto& [fault, deciding] : counts)
        for (const Drill& drill : drills) {
            Drill made = drill;
            made.measure = deciding.measure;
            made.rehearsal = deciding.rehearsal;
            made.swing = deciding.swing;
            counted.emplace(std::pair(fault, drill.id), std::move(made));
        }
}

std::vector<const Drill*> find_drills(const DrillBook& book, const DrillWish& wish) {
    std::vector<std::string> words;
    std::istringstream in(lower(wish.words));
    for (std::string word; in >> word;)
        words.push_back(word);
    const auto fits = [&](const Drill& drill) {
        if (!wish.fault.empty() && !drill.is_for(wish.fault))
            return false;
        if (wish.place && !drill.can_be_done(*wish.place))
            return false;
        if (wish.needs == "nothing" && !drill.needs.empty())
            return false;
        if (!wish.needs.empty() && wish.needs != "nothing" &&
            std::none_of(drill.needs.begin(), drill.needs.end(), [&](const std::string& one) {
                return lower(one).find(lower(wish.needs)) != std::string::npos;
            }))
            return false;
        if (!wish.caution.empty() && !has(drill.cautions, wish.caution))
            return false;
        if (std::any_of(wish.limits.begin(), wish.limits.end(),
                        [&](const std::string& limit) { return has(drill.not_for, limit); }))
            return false;
        const std::string all = words.empty() ? std::string() : all_words(drill);
        return std::all_of(words.begin(), words.end(), [&](const std::string& word) {
            return all.find(word) != std::string::npos;
        });
    };
    std::vector<const Drill*> out;
    for (const Drill& drill : book.drills)
        if (fits(drill))
            out.push_back(&drill);
    // Of those for a fault the ones that name it earlier are made for it.
    if (!wish.fault.empty())
        std::stable_sort(out.begin(), out.end(), [&](const Drill* a, const Drill* b) {
            const auto rank = [&](const Drill& drill) {
                return std::find(drill.faults.begin(), drill.faults.end(), wish.fault) -
                       drill.faults.begin();
            };
            return rank(*a) < rank(*b);
        });
    std::stable_sort(out.begin(), out.end(), [&](const Drill* a, const Drill* b) {
        const auto rank = [&](const Drill& drill) {
            return std::find(wish.preferred.begin(), wish.preferred.end(), drill.id) -
                   wish.preferred.begin();
        };
        return rank(*a) < rank(*b);
    });
    return out;
}

std::vector<std::string> cautions_of(const DrillBook& book, const Drill& drill) {
    std::vector<std::string> keys{"always"};
    keys.insert(keys.end(), drill.cautions.begin(), drill.cautions.end());
    keys.emplace_back("coach");
    std::vector<std::string> out;
    for (const std::string& key : keys)
        if (const auto found = book.cautions.find(key); found != book.cautions.end())
            out.push_back(found->second);
    return out;
}

std::string name_of_rung(int rung) {
    switch (rung) {
    case 1:
        return KITE_TR("no club");
    case 2:
        return KITE_TR("club, no ball");
    case 3:
        return KITE_TR("ball, short and slow");
    case 4:
        return KITE_TR("half swing, half speed");
    case 5:
        return KITE_TR("three quarters");
    default:
        return KITE_TR("full swing");
    }
}

} // namespace kite
