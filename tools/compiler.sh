# Sourced by what builds.

# Runs a build with one compiler for all its projects, which takes half as long as one for each. It ends with the build: one that outlives
# a change of the pages was seen to compile them wrongly.
with_own_compiler() {
  local status=0 process name="fondo-$$-build"
  UseSharedCompilation=true SharedCompilationId="$name" "$@" || status=$?
  for process in /proc/[0-9]*; do
    if grep -aqs -- "-pipename:$name" "$process/cmdline"; then kill "${process#/proc/}" 2>/dev/null || true; fi
  done
  return "$status"
}
