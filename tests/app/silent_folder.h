// A network share whose connection is gone.
#pragma once

#include <fcntl.h>
#include <sys/mount.h>
#include <unistd.h>

#include <filesystem>
#include <string>
#include <utility>

namespace yelvin::test {

// A folder on a file system that never answers: a FUSE mount of ours that nobody serves.
class SilentFolder {
  public:
    explicit SilentFolder(const std::filesystem::path& folder)
        : folder_(folder), device_(::open("/dev/fuse", O_RDWR | O_CLOEXEC)) {
        std::filesystem::create_directory(folder);
        const std::string how = "fd=" + std::to_string(device_) + ",rootmode=40000,user_id=0,group_id=0";
        mounted_ = device_ >= 0 && ::mount("silent", folder.c_str(), "fuse", 0, how.c_str()) == 0;
    }
    ~SilentFolder() { answer(); }
    bool is_there() const { return mounted_; }
    // From now on every call is told that the connection is gone (ENOTCONN).
    void break_off() {
        if (device_ >= 0) ::close(std::exchange(device_, -1));
    }
    void answer() { // whoever asked is let go, and the folder is an ordinary one again
        if (device_ >= 0) ::close(std::exchange(device_, -1));
        if (std::exchange(mounted_, false)) ::umount2(folder_.c_str(), MNT_DETACH);
    }

  private:
    std::filesystem::path folder_;
    int device_;
    bool mounted_ = false;
};

}
