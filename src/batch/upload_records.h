// What `yelvin-batch send` is uploading, written down so that a later run can remove the half of a file that a killed
// one left on the server, and nothing that is somebody else's.
//
// Each upload has a file in the person's state folder ($XDG_STATE_HOME/yelvin/uploads, mode 0700), locked while it
// runs.
#pragma once

#include "core/sending/delivery.h"

#include <filesystem>
#include <string>

namespace yelvin {

namespace UploadRecords {

// The record of one upload; it goes with this object, and stays if the program is killed. Where it cannot be written,
// the upload goes on without one.
class Kept {
  public:
    Kept(const Server& server, const RemotePath& folder, const std::string& token);
    ~Kept();
    Kept(const Kept&) = delete;
    Kept& operator=(const Kept&) = delete;

  private:
    std::filesystem::path file_;
    int descriptor_ = -1;
};

// Removes from this server what killed uploads to it left there, and their records. Records of other servers, of other
// users and of uploads that are running stay; so does one whose file cannot be removed now.
void remove_left_behind(Remote& remote, const Server& server);

}

}
