// What is called with an answer from something outside, which may come late, twice or never: it is taken once, and only
// while the object that asked is there.
#pragma once

#include <QObject>
#include <QPointer>

#include <functional>
#include <memory>
#include <utility>

namespace yelvin {

// Copies are of the same answer: of all of them one is taken. Call it on the thread of the object that asked.
template <class T>
class Answer {
  public:
    // `then` is called with the answer unless `asking` is gone by then.
    Answer(QObject* asking, std::function<void(const T&)> then)
        : state_(std::make_shared<State>(State{asking, std::move(then)})) {}

    void operator()(const T& value) const {
        const auto then = std::exchange(state_->then, {});
        if (then && state_->asking) then(value);
    }

  private:
    struct State {
        QPointer<QObject> asking;
        std::function<void(const T&)> then;
    };
    std::shared_ptr<State> state_;
};

}
