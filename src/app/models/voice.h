// Whoever reads aloud: the system's voice (Qt's text-to-speech), or a stand-in.
#pragma once

#include <QObject>

#include <QThread>

class QTextToSpeech;

namespace yelvin {

class Voice : public QObject {
    Q_OBJECT
  public:
    using QObject::QObject;
    virtual void look_for() {} // ends with found(), if there is one
    virtual bool is_there() const = 0;
    // `language` by Tesseract's name; ends with ended(), unless stop() comes first.
    virtual void say(const QString& words, const std::string& language) = 0;
    virtual void stop() = 0;

  signals:
    void found(); // is_there()
    void ended();
};

// On a thread of its own, since the system may have to wake its speaker first. Without a plug-in of Qt's or a voice of
// the system there is none.
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
    QObject* there_ = nullptr;        // lives on it, as does …
    QTextToSpeech* speech_ = nullptr; // … its child
    bool is_there_ = false, speaks_ = false;

    void begin();
};

}
