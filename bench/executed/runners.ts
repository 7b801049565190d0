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

/** Compiles programs within itself, which takes a tenth of beginning a compiler for each. What a line of JSON needs of JSON is a text or nothing. */
export const JAVA_RUNNER = `
import java.io.*;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.*;
import javax.tools.*;

public class Run {
  static final JavaCompiler COMPILER = ToolProvider.getSystemJavaCompiler();

  static class Source extends SimpleJavaFileObject {
    final String text;
    Source(String text) { super(URI.create("string:///Main.java"), Kind.SOURCE); this.text = text; }
    public CharSequence getCharContent(boolean ignored) { return text; }
  }
  static class Made extends SimpleJavaFileObject {
    final ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    Made(String name) { super(URI.create("mem:///" + name + ".class"), Kind.CLASS); }
    public OutputStream openOutputStream() { return bytes; }
  }
  static class Told extends ByteArrayOutputStream {
    volatile boolean isOver = false;
    public synchronized void write(byte[] some, int from, int many) {
      if (isOver || size() > 20000) throw new Error("too much");
      super.write(some, from, many);
    }
  }

  /** What is said goes to the one that listens to the thread which says it, or which began that: one that is late says nothing among others. */
  static final InheritableThreadLocal<Told> LISTENS = new InheritableThreadLocal<>();
  static class Said extends OutputStream {
    public void write(int one) { write(new byte[] { (byte) one }, 0, 1); }
    public void write(byte[] some, int from, int many) { LISTENS.get().write(some, from, many); }
  }

  static String told(String program) throws Exception {
    Map<String, Made> made = new HashMap<>();
    JavaFileManager files = new ForwardingJavaFileManager<>(COMPILER.getStandardFileManager(said -> {}, null, null)) {
      public JavaFileObject getJavaFileForOutput(Location at, String name, JavaFileObject.Kind kind, FileObject near) {
        return made.computeIfAbsent(name, Made::new);
      }
    };
    List<String> options = List.of("-nowarn", "-proc:none");
    if (!COMPILER.getTask(null, files, said -> {}, options, null, List.of(new Source(program))).call()) return null;
    ClassLoader loader = new ClassLoader(Run.class.getClassLoader()) {
      protected Class<?> findClass(String name) throws ClassNotFoundException {
        Made one = made.get(name);
        if (one == null) throw new ClassNotFoundException(name);
        byte[] bytes = one.bytes.toByteArray();
        return defineClass(name, bytes, 0, bytes.length);
      }
    };
    Told said = new Told();
    LISTENS.set(said);
    String[] end = { "" };
    Thread runs = new Thread(() -> {
      try {
        loader.loadClass("Main").getMethod("main", String[].class).invoke(null, (Object) new String[0]);
      } catch (java.lang.reflect.InvocationTargetException error) {
        end[0] = error.getCause().getClass().getName();
      } catch (Throwable error) {
        end[0] = error.toString();
      }
    });
    runs.setDaemon(true);
    runs.start();
    runs.join(2000);
    // What is late goes on by itself, until it says something more.
    said.isOver = true;
    return runs.isAlive() ? "late" : said + end[0];
  }

  static String read(String line) {
    StringBuilder text = new StringBuilder();
    for (int at = 1; at < line.length() - 1; at++) {
      char sign = line.charAt(at);
      if (sign != '\\\\') { text.append(sign); continue; }
      char next = line.charAt(++at);
      if (next == 'u') { text.append((char) Integer.parseInt(line.substring(at + 1, at + 5), 16)); at += 4; }
      else text.append(next == 'n' ? '\\n' : next == 't' ? '\\t' : next == 'r' ? '\\r' : next);
    }
    return text.toString();
  }

  static String written(String text) {
    if (text == null) return "null";
    StringBuilder line = new StringBuilder("\\"");
    for (char sign : text.toCharArray())
      line.append(sign < ' ' || sign == '"' || sign == '\\\\' ? String.format("\\\\u%04x", (int) sign) : String.valueOf(sign));
    return line.append('"').toString();
  }

  public static void main(String[] args) throws Exception {
    var lines = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
    var answers = new PrintStream(System.out, true, StandardCharsets.UTF_8);
    System.setOut(new PrintStream(new Said(), true));
    for (String line; (line = lines.readLine()) != null; ) answers.println(written(told(read(line))));
  }
}
`;
