// The voice that reads aloud: the system's (Qt's text-to-speech), or a stand-in of the tests.
#pragma once

#include <QObject>

#include <QThread>

class QTextToSpeech;

namespace yelvin {

class Voice : public QObject {
    Q_OBJECT
  public:
    using QObject::QObject;
    virtual void look_for() {} // emits found() if there is one
    virtual bool is_there() const = 0;
    // Speaks a text. `language` is Tesseract's name. Emits ended(), unless stop() is called before.
    virtual void say(const QString& words, const std::string& language) = 0;
    virtual void stop() = 0;

  signals:
    void found(); // is_there() changed
    void ended();
};

// Uses a thread of its own, because the system may have to start its speech service first. Without a plug-in of Qt or a
// voice of the system there is none.
class SystemVoice : public Voice {
    Q_OBJECT
  public:
    explicit SystemVoice(QObject* parent = nullptr) : Voice(parent) {}
    ~SystemVoice() override;
    void look_for() override;
    bool is_there() const override { return is_there_; }
    void say(const QString& words, const std::string& language) override;
    void stop() override;

  private:
    QThread thread_;
    QObject* there_ = nullptr;        // lives on that thread
    QTextToSpeech* speech_ = nullptr; // child of there_
    bool is_there_ = false, speaks_ = false;

    void begin();
};

}
