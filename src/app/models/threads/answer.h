// A callback for an answer from outside the program (a keyring, a printer, another program), which may come late, twice
// or never. It is called once at most, and only while the object that asked exists.
#pragma once

#include <QObject>
#include <QPointer>

#include <functional>
#include <memory>
#include <utility>

namespace yelvin {

// Copies share one state: of all of them, the first call counts. Call it on the thread of the object that asked.
template <class T>
class Answer {
  public:
    // `then` is called with the answer if `asking` still exists.
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
