// The switch of all stand-ins of the window tests: how an answer from outside of the program arrives.
#pragma once

#include "app/models/threads/answer.h"

#include <QTimer>

#include <gtest/gtest.h>

namespace yelvin::test {

enum class Comes { OnTime, Late, Twice, Never, Wrongly };

inline auto in_every_way() {
    return testing::Values(Comes::OnTime, Comes::Late, Comes::Twice, Comes::Never, Comes::Wrongly);
}

// The part of a test's name.
inline const char* word_for(Comes way) {
    constexpr const char* words[] = {"OnTime", "Late", "Twice", "Never", "Wrongly"};
    return words[static_cast<int>(way)];
}
inline std::string how_it_comes(const testing::TestParamInfo<Comes>& each) { return word_for(each.param); }

// Counts the answers of one stand-in.
struct Answers {
    Comes come = Comes::OnTime;
    int to_tell = 0, told = 0; // that are on their way, and those that have come
    int unanswered = 0;        // that nobody will ever answer

    bool all_told() const { return told == to_tell; }
    // Delivers an answer later, by the event loop; not at all once `here` was deleted. `wrong` is delivered if answers
    // are to be wrong.
    template <class T>
    void tell(QObject* here, const Answer<T>& answer, const T& value, const T& wrong) {
        constexpr int late_ms = 300;
        if (come == Comes::Never) return void(++unanswered);
        for (int i = 0; i < (come == Comes::Twice ? 2 : 1); ++i) {
            ++to_tell;
            QTimer::singleShot(come == Comes::Late ? late_ms : i, here,
                               [this, answer, told_value = come == Comes::Wrongly ? wrong : value] {
                                   ++told;
                                   answer(told_value);
                               });
        }
    }
};

}
