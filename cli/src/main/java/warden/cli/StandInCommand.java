package warden.cli;

import java.io.BufferedReader;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiFunction;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import warden.core.azure.survey.AzureAspects;
import warden.core.document.Json;
import warden.core.survey.SurveyException;
import warden.standin.Faults;
import warden.standin.Loopback;
import warden.standin.aws.StandIn;
import warden.standin.azure.AzureStandIn;

/** Runs the simulated account until stopped. */
final class StandInCommand implements ProgramCommand {
    private final OutputOptions options = new OutputOptions();
    private List<String> surveys = new ArrayList<>();
    private int port;
    private int tlsPort;
    private @Nullable Path objects;
    private @Nullable Path save;
    private int latency;
    private int throttle;
    private int reset;
    private int truncate;
    private List<String> refuse = new ArrayList<>();
    private boolean listsKeys;

    private static final int LARGEST_PORT = 65_535;
    private static final int MOST_NAMED = 5;

    private final World world;

    StandInCommand(World world) {
        this.world = world;
    }

    @Override
    public void declare(Options line) {
        line.describe("Run a simulated account on loopback, loaded from a survey or the demo, until stopped.");
        options.declare(line);
        line.texts(
                "-s --survey",
                "FILE",
                "Survey to load it from, or a folder of surveys; may repeat: several are the accounts of an organization, the first that manages it. Default: the demo company's",
                value -> surveys = value);
        line.number(
                "--port", "N", "Port of the API and of plain HTTP. Default: one that is free", value -> port = value);
        line.number(
                "--tls-port", "N", "Port of the sites over HTTPS. Default: one that is free", value -> tlsPort = value);
        line.path(
                "--objects",
                "DIR",
                "What objects hold: DIR/BUCKET/KEY. Default: text made up to their sizes",
                value -> objects = value);
        line.path("--save", "FILE", "When stopped, write the state there as a survey", value -> save = value);
        line.number("--latency", "MS", "Let each call take at least so long", value -> latency = value);
        line.number("--throttle", "PERCENT", "Tell so many calls to slow down", value -> throttle = value);
        line.number("--reset", "PERCENT", "Cut so many connections", value -> reset = value);
        line.number("--truncate", "PERCENT", "End so many answers in their middle", value -> truncate = value);
        line.texts("--refuse", "ACTION", "Refuse this action to everybody; may repeat", value -> refuse = value);
        line.flag(
                "--keys",
                "List the access key ids that the simulated account knows, each with whose it is, and end",
                value -> listsKeys = value);
    }

    @Override
    public Integer call() throws Exception {
        if (throttle + reset + truncate > 100 || throttle < 0 || reset < 0 || truncate < 0 || latency < 0) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    "--throttle, --reset and --truncate are percentages that together make 100 at most");
        }
        if (port < 0 || port > LARGEST_PORT || tlsPort < 0 || tlsPort > LARGEST_PORT) {
            throw new InputException(ExitCode.WRONG_COMMAND, "--port and --tls-port take 0 to " + LARGEST_PORT);
        }
        Set<String> refused =
                refuse.stream().map(action -> action.toLowerCase(Locale.ROOT)).collect(Collectors.toSet());
        List<String> files = Surveys.files(surveys);
        if (files.size() == 1 && isOfSubscription(Path.of(files.get(0)))) {
            return subscription(Path.of(files.get(0)), new Faults(latency, throttle, reset, truncate, refused));
        }
        Path folder = passingFolder();
        try (StandIn standIn = start(
                files,
                world,
                contents(objects),
                new StandIn.Settings(
                        new Faults(latency, throttle, reset, truncate, refused),
                        Optional.of(folder),
                        Optional.empty(),
                        false,
                        call -> {}),
                port)) {
            if (listsKeys) {
                options.write(keys(standIn));
                return ExitCode.DONE.number();
            }
            int secure = startTls(standIn, folder);
            options.write(howToReach(standIn, secure));
            if (save != null) {
                Path file = save;
                Runtime.getRuntime().addShutdownHook(new Thread(() -> save(file, standIn.state())));
            }
            Thread.currentThread().join();
        }
        return ExitCode.DONE.number();
    }

    /** Its first line says whose it is. */
    private static boolean isOfSubscription(Path file) {
        try (BufferedReader in = Files.newBufferedReader(file)) {
            String header = in.readLine();
            return header != null && header.contains("\"provider\":\"" + AzureAspects.PROVIDER + "\"");
        } catch (IOException unreadable) {
            return false;
        }
    }

    private Integer subscription(Path file, Faults faults) throws Exception {
        try (AzureStandIn standIn = AzureStandIn.start(
                Files.readString(file), file.toString(), faults, port, passingFolder(), world.clock())) {
            options.write("The simulated subscription is at " + standIn.endpoint()
                    + " until it is stopped (Ctrl-C). All of it is made up.\n"
                    + "  sign in   any secret, as " + named(standIn.clients()) + "\n"
                    + "            certificate authority: " + standIn.authority() + "\n"
                    + "  survey    REQUESTS_CA_BUNDLE=" + standIn.authority()
                    + " AZURE_TENANT_ID=simulated AZURE_CLIENT_ID=ID AZURE_CLIENT_SECRET=any \\\n"
                    + "            gentle-warden survey --provider azure --endpoint " + standIn.endpoint() + "\n"
                    + "  blobs     " + standIn.endpoint()
                    + "/ACCOUNT/CONTAINER/NAME, with a token, a key (az storage account keys list) or a signed URL\n"
                    + "  sites     by Host header: https on the same port, http on port " + standIn.plainPort() + "\n"
                    + "            gentle-warden trace URL --observe --resolve HOST:443:127.0.0.1:"
                    + standIn.endpoint().replaceFirst(".*:", "") + " --ca-file " + standIn.authority() + "\n"
                    + "  state     curl --cacert " + standIn.authority() + " " + standIn.endpoint()
                    + Loopback.STATE_PATH
                    + "\n"
                    + "  whatever else is asked, and whatever is not known for certain, ends in 501\n");
            if (save != null) {
                Path target = save;
                Runtime.getRuntime().addShutdownHook(new Thread(() -> save(target, standIn.state())));
            }
            Thread.currentThread().join();
        } catch (SurveyException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        } catch (java.net.BindException taken) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND, "the port " + port + " is taken; name another with --port");
        }
        return ExitCode.DONE.number();
    }

    /** Makes a folder that is gone when the program ends, by whatever signal that can be heard. */
    static Path passingFolder() throws IOException {
        Path folder = Files.createTempDirectory("gentle-warden-");
        Runtime.getRuntime().addShutdownHook(new Thread(() -> {
            try (Stream<Path> files = Files.walk(folder)) {
                for (Path file : files.sorted(Comparator.reverseOrder()).toList()) {
                    Files.delete(file);
                }
            } catch (IOException stays) {
                // What cannot be removed at the very end is left to the system.
            }
        }));
        return folder;
    }

    private void save(Path file, String state) {
        try {
            TargetFile.write(file, state, "--save");
        } catch (InputException failed) {
            options.say("gentle-warden: " + failed.getMessage());
        }
    }

    private int startTls(StandIn standIn, Path folder) throws IOException {
        try {
            return standIn.startTls(folder, tlsPort);
        } catch (java.net.BindException taken) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND, "the port " + tlsPort + " is taken; name another with --tls-port");
        }
    }

    static BiFunction<String, String, Optional<byte[]>> contents(@Nullable Path folder) {
        return (bucket, key) -> {
            if (folder == null) {
                return Optional.empty();
            }
            try {
                Path root = folder.resolve(bucket).normalize();
                Path file = root.resolve(key).normalize();
                return file.startsWith(root) && Files.isRegularFile(file)
                        ? Optional.of(Files.readAllBytes(file))
                        : Optional.empty();
            } catch (IOException | InvalidPathException unreadable) {
                return Optional.empty();
            }
        };
    }

    static StandIn start(
            List<String> named,
            World world,
            BiFunction<String, String, Optional<byte[]>> contents,
            StandIn.Settings settings,
            int port) {
        String file = DemoSurvey.FILE;
        try {
            List<Map.Entry<String, String>> texts = new ArrayList<>();
            for (String name : named) {
                file = name;
                texts.add(Map.entry(name, Files.readString(Path.of(name))));
            }
            if (texts.isEmpty()) {
                texts.add(Map.entry(file, DemoSurvey.text()));
            }
            return StandIn.start(texts, contents, settings, port, world.clock());
        } catch (SurveyException unusable) {
            throw new InputException(ExitCode.WRONG_INPUT, unusable.getMessage());
        } catch (java.net.BindException taken) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND, "the port " + port + " is taken; name another with --port");
        } catch (IOException unreadable) {
            throw new InputException(
                    ExitCode.WRONG_INPUT, file + ": cannot be read as a survey (" + unreadable.getMessage() + ")");
        }
    }

    private String keys(StandIn standIn) {
        Map<String, String> keys = standIn.keys();
        return options.format() == OutputOptions.Format.json
                ? Json.text(keys) + "\n"
                : keys.entrySet().stream()
                        .map(key -> key.getKey() + "  " + key.getValue() + "\n")
                        .collect(Collectors.joining());
    }

    static String howToReach(StandIn standIn, int securePort) {
        String authority = standIn.authority().map(Path::toString).orElse("");
        String account =
                standIn.state().lines().findFirst().orElse("").replaceAll(".*\"account\":\"([0-9]+)\".*", "$1");
        String root = StandIn.keyOf("arn:aws:iam::" + account + ":root");
        int accounts = standIn.accounts().size();
        return (accounts == 1
                        ? "The simulated account is at "
                        : "The simulated organization of " + accounts + " accounts is at ")
                + standIn.endpoint()
                + " until it is stopped (Ctrl-C). All of it is made up.\n"
                + "  API       aws --endpoint-url " + standIn.endpoint() + " s3 ls\n"
                + "            AWS_ACCESS_KEY_ID=" + root
                + " AWS_SECRET_ACCESS_KEY=any AWS_REGION=eu-west-1   (the root user)\n"
                + "            other principals: gentle-warden stand-in --keys\n"
                + "  survey    gentle-warden survey --endpoint " + standIn.endpoint()
                + (accounts == 1 ? "" : " --organization --role NAME -o surveys") + "\n"
                + "  sites     http by Host header on port " + standIn.port() + ", https on port " + securePort + "\n"
                + "            certificate authority: " + authority + "\n"
                + "            gentle-warden trace URL --observe --resolve HOST:443:127.0.0.1:" + securePort
                + " --ca-file " + authority + "\n"
                + "  state     curl " + standIn.endpoint() + Loopback.STATE_PATH + "\n";
    }

    /** Names some of many. */
    private static String named(List<String> all) {
        String some = all.stream().limit(MOST_NAMED).collect(Collectors.joining(", "));
        return all.size() > MOST_NAMED ? some + " and " + (all.size() - MOST_NAMED) + " more" : some;
    }
}
