/** Programs in other languages that run programs, and say what those do. */

/** Reads programs, a line of JSON each, runs them, and writes what they say. */
export const PYTHON_RUNNER = `
import json, re, sys, warnings
warnings.simplefilter("ignore")
def run(program):
    told = []
    def log(*words):
        if len(told) > 500: raise KeyboardInterrupt
        told.append(" ".join(re.sub("<(function|coroutine|generator).*?>| at 0x[0-9a-f]+", "", str(word)) for word in words))
        return True
    try:
        exec(compile(program, "a.py", "exec"), {"log": log, "__name__": "a"})
    except SyntaxError:
        return None if not told else "|".join(told + ["SyntaxError"])
    except BaseException as error:
        told.append(type(error).__name__)
    return "|".join(told)
for line in sys.stdin:
    print(json.dumps(run(json.loads(line))), flush=True)
`;

/** Each in a process of its own, since what one defines others would find. */
export const RUBY_RUNNER = `
require "json"
$stdout.sync = true
def told(program)
  from, to = IO.pipe
  child = fork do
    $stdout.reopen(to)
    $stderr.reopen(File::NULL)
    $stdin.reopen(File::NULL)
    $VERBOSE = nil
    Process.setrlimit(Process::RLIMIT_CPU, 1)
    $told = 0
    def log(*words)
      exit!(3) if ($told += 1) > 500
      print(words.inspect, "|")
      words[0]
    end
    begin
      RubyVM::InstructionSequence.compile(program, "a.rb").eval
    rescue SyntaxError
      print "SyntaxError"
    rescue Exception => error
      print error.class
    end
    exit!(0)
  end
  to.close
  said = from.read(20000)
  Process.wait(child)
  said == "SyntaxError" ? nil : said.to_s.gsub(/0x\\h+/, "0x")
end
STDIN.each_line { |line| puts JSON.generate(told(JSON.parse(line))) }
`;

/** What a program of PHP is begun with. */
export const PHP_LOG = `<?php
$told = 0;
function tell(...$words) {
  if (++$GLOBALS["told"] > 500) exit(3);
  echo json_encode($words), "|";
  return $words[0] ?? null;
}
set_exception_handler(function ($error) { echo get_class($error); });
`;
