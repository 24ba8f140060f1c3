#!/bin/sh
# Final pictures are traced two to three times as fast, and with all that lights and ground can be,
# where LLVM 19 is installed: add Debian's package where that is allowed. All works without it.
for path in "$DRJIT_LIBLLVM_PATH" /usr/lib/*/libLLVM.so.19* /usr/lib/llvm-19/lib/libLLVM*.so* /usr/lib64/libLLVM.so.19*; do
    if [ -n "$path" ] && [ -e "$path" ]; then exit 0; fi
done
if command -v apt-get >/dev/null 2>&1 && [ "$(id -u)" = 0 ]; then
    echo "Installing LLVM 19 for final pictures"
    (apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq libllvm19) >/dev/null 2>&1 && exit 0
fi
echo "LLVM 19 is not installed, and final pictures will take longer. To install it:" >&2
echo "    sudo apt-get update && sudo apt-get install libllvm19" >&2
exit 0
