// Whoever reads aloud: the system's voice (Qt's text-to-speech), or a stand-in.
#pragma once

#include <QObject>

#include <memory>

class QTextToSpeech;

namespace yelvin {

class Voice : public QObject {
    Q_OBJECT
  public:
    using QObject::QObject;
    virtual bool is_there() const = 0;
    // `language` by Tesseract's name; ends with ended(), unless stop() comes first.
    virtual void say(const QString& words, const std::string& language) = 0;
    virtual void stop() = 0;

  signals:
    void found(); // is_there()
    void ended();
};

// Looked for some time after it was made, since that may take a while. Without a plug-in of Qt's or a voice of the
// system there is none.
class SystemVoice : public Voice {
    Q_OBJECT
  public:
    explicit SystemVoice(QObject* parent = nullptr);
    ~SystemVoice() override;
    bool is_there() const override { return speech_ != nullptr; }
    void say(const QString& words, const std::string& language) override;
    void stop() override;

  private:
    std::unique_ptr<QTextToSpeech> speech_;
    bool speaks_ = false;
    void look();
};

}
