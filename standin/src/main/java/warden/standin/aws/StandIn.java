package warden.standin.aws;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.BiFunction;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import warden.core.aws.policy.Actor;
import warden.core.aws.storage.StorageEndpoint;
import warden.core.aws.survey.AwsAspects;
import warden.core.document.Json;
import warden.core.rehearse.RehearsedCall;
import warden.core.survey.SurveyException;
import warden.standin.Faults;
import warden.standin.Loopback;
import warden.standin.Refusal;
import warden.standin.Reply;
import warden.standin.ServerCertificates;
import warden.standin.WireRequest;
import warden.standin.XmlText;

/** Simulated accounts as a server on loopback. Signed calls are the accounts'; by Host header it serves the sites. */
public final class StandIn implements AutoCloseable {
    private final Organization organization;
    private final Consumer<RehearsedCall> record;
    private final Clock clock;
    private final Loopback servers;
    private final int port;
    private @Nullable ServerCertificates certificates;
    private Set<String> hosts = Set.of();

    /**
     * How it differs from the account.
     *
     * @param folder where large objects lie; absent to hold them in memory
     * @param address from where all calls are taken to come; absent for where they come from
     * @param keepsGoing refuses nothing, and records what would have been
     * @param record is told of each call to the account, by several threads
     */
    public record Settings(
            Faults faults,
            Optional<Path> folder,
            Optional<String> address,
            boolean keepsGoing,
            Consumer<RehearsedCall> record) {
        /** Returns those of an account that behaves, but for its misfortunes. */
        public static Settings of(Faults faults) {
            return new Settings(faults, Optional.empty(), Optional.empty(), false, call -> {});
        }
    }

    /**
     * What signs as a principal.
     *
     * @param token absent for keys that are good for long
     */
    public record Credentials(String keyId, String secret, Optional<String> token) {}

    private StandIn(List<CloudState> states, Settings settings, int port, Clock clock) throws IOException {
        this.clock = clock;
        this.record = settings.record();
        this.organization = new Organization(
                states,
                new Gatekeeper.Rules(settings.faults().refused(), settings.address(), settings.keepsGoing()),
                clock);
        this.servers = new Loopback(new Answers(), settings.faults());
        this.port = servers.plain(port);
    }

    /**
     * Starts it.
     *
     * @param survey a survey's text
     * @param file the survey's name, for messages
     * @param contents what objects hold, by bucket name and key; absent for those whose content is to be made up
     * @param port the port on loopback; 0 for any that is free
     * @throws SurveyException when the text is no survey
     * @throws IOException when the port cannot be had
     */
    public static StandIn start(
            String survey,
            String file,
            BiFunction<String, String, Optional<byte[]>> contents,
            Settings settings,
            int port,
            Clock clock)
            throws SurveyException, IOException {
        return start(List.of(Map.entry(file, survey)), contents, settings, port, clock);
    }

    /**
     * Starts it with the accounts of an organization.
     *
     * @param surveys the surveys' texts by the surveys' names; the first is of the organization's management account
     * @param contents what objects hold, by bucket name and key; absent for those whose content is to be made up
     * @param port the port on loopback; 0 for any that is free
     * @throws SurveyException when a text is no survey, or two are of one account
     * @throws IOException when the port cannot be had
     */
    public static StandIn start(
            List<Map.Entry<String, String>> surveys,
            BiFunction<String, String, Optional<byte[]>> contents,
            Settings settings,
            int port,
            Clock clock)
            throws SurveyException, IOException {
        List<CloudState> states = new ArrayList<>();
        for (Map.Entry<String, String> survey : surveys) {
            ObjectStore objects = new ObjectStore(contents, settings.folder().orElse(null));
            CloudState state = CloudState.parse(survey.getValue(), survey.getKey(), objects);
            if (!state.header().provider().equals(AwsAspects.PROVIDER)) {
                throw new SurveyException(
                        survey.getKey(),
                        "this is not of an account of the first provider; a subscription is simulated alone");
            }
            String number = state.header().account();
            if (states.stream().anyMatch(other -> other.header().account().equals(number))) {
                throw new SurveyException(
                        survey.getKey(), "this is of account " + number + ", as is another; give one survey of each");
            }
            states.add(state);
        }
        return new StandIn(states, settings, port, clock);
    }

    /** Starts one that differs from the account by misfortunes only. */
    public static StandIn start(
            String survey,
            String file,
            BiFunction<String, String, Optional<byte[]>> contents,
            Faults faults,
            int port,
            Clock clock)
            throws SurveyException, IOException {
        return start(survey, file, contents, Settings.of(faults), port, clock);
    }

    /**
     * Serves the sites and the provider's own hosts over TLS too, with certificates made when they are asked for.
     *
     * @param folder where the key and the certificate are put
     * @return the port
     */
    public int startTls(Path folder, int port) throws IOException {
        hosts = organization.accounts().stream()
                .flatMap(account -> EdgeHosts.of(account.state().cloud()).stream())
                .collect(Collectors.toSet());
        certificates = ServerCertificates.make(folder, host -> hosts.contains(host) || isService(host));
        return servers.secure(port, certificates.context());
    }

    /** True for the hosts for which the provider shows a certificate: its services, and buckets whose name is one label. */
    private static boolean isService(String host) {
        return host.endsWith(".amazonaws.com")
                && StorageEndpoint.parse(host)
                        .filter(endpoint -> endpoint.isWebsite()
                                || endpoint.bucket()
                                        .filter(name -> name.indexOf('.') >= 0)
                                        .isPresent())
                        .isEmpty();
    }

    /** True for hosts, in lower case, that the account answers at: the provider's own, and after {@link #startTls} those of its sites. */
    public boolean answersAt(String host) {
        return host.endsWith(".amazonaws.com") || host.endsWith(".cloudfront.net") || hosts.contains(host);
    }

    /** Returns the file of the certificate authority to trust; absent before {@link #startTls}. */
    public Optional<Path> authority() {
        return Optional.ofNullable(certificates).map(ServerCertificates::authority);
    }

    /** Returns the address of the API endpoint. */
    public String endpoint() {
        return "http://127.0.0.1:" + port;
    }

    public int port() {
        return port;
    }

    /** Returns the access key id that stands for a principal of the account, by its ARN. */
    public static String keyOf(String arn) {
        return Gatekeeper.keyOf(arn);
    }

    /** Returns all access key ids that it knows, each with whose it is. */
    public Map<String, String> keys() {
        Map<String, String> keys = new TreeMap<>();
        organization
                .accounts()
                .forEach(account -> keys.putAll(account.gatekeeper().keys()));
        return keys;
    }

    /**
     * Returns what signs as a principal: a user's key, or a session of a role.
     *
     * @param session the session's name
     * @return absent where the survey shows no such principal
     */
    public Optional<Credentials> credentials(String arn, String session) {
        String key = keyOf(arn);
        Gatekeeper gatekeeper = organization.knowing(key).gatekeeper();
        return gatekeeper.actor(key).map(actor -> {
            if (!(actor instanceof Actor.Role)) {
                return new Credentials(key, "made-up", Optional.empty());
            }
            Map.Entry<String, Session> made =
                    gatekeeper.newSession(actor, session, clock.instant().plus(LONGEST_SESSION), List.of());
            return new Credentials(
                    made.getKey(), "made-up", Optional.of(made.getValue().token()));
        });
    }

    private static final Duration LONGEST_SESSION = Duration.ofHours(12);

    /** Returns the paths that were invalidated, in their order, each behind the distribution's ARN and a blank. */
    public List<String> invalidated() {
        return organization.accounts().stream()
                .flatMap(account -> account.services().invalidations().paths().stream())
                .toList();
    }

    /** Returns how many requests were answered so far. */
    public long calls() {
        return servers.calls();
    }

    /** Returns the state as a survey's text; of an organization, that of the first account. */
    public String state() {
        return organization.accounts().get(0).state().text();
    }

    /** Returns the numbers of its accounts. */
    public List<String> accounts() {
        return organization.accounts().stream().map(SimulatedAccount::number).toList();
    }

    @Override
    public void close() {
        servers.close();
    }

    /** What is asked of the account, or of its sites. */
    private final class Answers implements Loopback.Provider {
        @Override
        public Reply throttled(WireRequest request) {
            boolean isStorage = service(request).equals("s3");
            return named(error(
                    service(request),
                    new Refusal(
                            isStorage ? 503 : 400, isStorage ? "SlowDown" : "ThrottlingException", "Rate exceeded")));
        }

        @Override
        public Reply answer(WireRequest request) {
            return named(answered(request));
        }
    }

    private static Reply named(Reply reply) {
        reply.headers().put("x-amz-request-id", "STANDIN0000000000");
        return reply;
    }

    private static String service(WireRequest request) {
        if (request.rawPath().startsWith(AccountApi.ACCOUNT_BLOCK)) {
            return "s3control";
        }
        boolean asksForSession = !request.headers().containsKey("authorization")
                && request.rawPath().equals("/")
                && new String(request.body(), StandardCharsets.UTF_8).contains("Action=AssumeRoleWithWebIdentity");
        return asksForSession ? "sts" : SignedCaller.service(request);
    }

    private Reply answered(WireRequest request) {
        if (request.rawPath().equals(Loopback.STATE_PATH)
                && !request.headers().containsKey("authorization")
                && request.isToLoopback()) {
            return Reply.of(200, "application/x-ndjson", state());
        }
        String service = service(request);
        CallNeeds needs = new CallNeeds();
        Call call = null;
        Reply reply;
        Refusal refused = null;
        try {
            SimulatedAccount caller = organization.calling(request);
            call = call(request, service, needs, caller);
            SimulatedAccount asked = organization.asked(call, caller);
            boolean isOfAccount = !call.service().isEmpty()
                    || request.isToLoopback()
                    || request.host().endsWith(".localhost");
            if (!isOfAccount) {
                return asked.visit(call);
            }
            reply = asked.toService(call);
        } catch (Refusal refusal) {
            refused = refusal;
            reply = error(service, refusal);
        } catch (IOException | IllegalArgumentException broken) {
            refused = new Refusal(400, "InvalidRequest", String.valueOf(broken.getMessage()));
            reply = error(service, refused);
        } catch (RuntimeException bug) {
            refused = new Refusal(500, "InternalError", "The simulated account failed: " + bug);
            reply = error(service, refused);
        }
        String who = call == null ? "" : call.who().spelled();
        record.accept(new RehearsedCall(
                clock.instant(),
                service,
                operation(needs),
                who,
                needs.asked(),
                reply.status(),
                refused == null || refused.status() != NOT_SIMULATED,
                refused == null ? "" : refused.code()));
        return request.method().equals("HEAD") && refused != null
                ? new Reply(reply.status(), reply.headers(), new byte[0])
                : reply;
    }

    private static final int NOT_SIMULATED = 501;

    /** Most operations bear the name of the action that they take. */
    private static String operation(CallNeeds needs) {
        return !needs.operation().isEmpty() || needs.asked().isEmpty()
                ? needs.operation()
                : needs.asked().get(0).action().replaceFirst(".*:", "");
    }

    private Call call(WireRequest request, String service, CallNeeds needs, SimulatedAccount account)
            throws IOException {
        boolean isFramed = request.header("x-amz-content-sha256").startsWith("STREAMING-");
        FramedBody body = isFramed ? FramedBody.parse(request.body()) : new FramedBody(request.body(), Map.of());
        String told = request.header("x-amz-decoded-content-length");
        if (isFramed && !told.isEmpty() && !told.equals(Integer.toString(body.content().length))) {
            throw new Refusal(400, "IncompleteBody", "The body has not the length that its header tells");
        }
        SignedCaller caller = SignedCaller.of(request, account.gatekeeper(), clock);
        return new Call(
                request,
                body.content(),
                body.trailers(),
                caller.who(),
                caller.service().isEmpty() && service.equals("sts") ? service : caller.service(),
                caller.region(),
                caller.session(),
                needs);
    }

    private static Reply error(String service, Refusal refusal) {
        Reply reply = errorBody(service, refusal);
        reply.headers().putAll(refusal.headers());
        return reply;
    }

    private static Reply errorBody(String service, Refusal refusal) {
        String message = String.valueOf(refusal.getMessage());
        return switch (service) {
            case "s3" ->
                Reply.xml(refusal.status(), XmlText.of("Error", "", xml -> {
                    xml.text("Code", refusal.code()).text("Message", message);
                    Optional.ofNullable(refusal.headers().get("x-amz-bucket-region"))
                            .ifPresent(region ->
                                    xml.text("Region", region).text("Endpoint", "s3." + region + ".amazonaws.com"));
                    xml.text("RequestId", "STANDIN0000000000").text("HostId", "stand-in");
                }));
            case "iam", "sts", "cloudfront", "route53", "s3control" ->
                Reply.xml(refusal.status(), XmlText.of("ErrorResponse", AccountApi.space(service), xml -> xml.element(
                                "Error", error -> error.text("Type", "Sender")
                                        .text("Code", refusal.code())
                                        .text("Message", message))
                        .text("RequestId", "00000000-0000-0000-0000-000000000000")));
            default -> {
                String type = refusal.code().equals("AccessDenied") ? "AccessDeniedException" : refusal.code();
                Reply reply = Reply.of(
                        refusal.status() == 403 ? 400 : refusal.status(),
                        "application/x-amz-json-1.1",
                        Json.text(Json.object("__type", type, "message", refusal.getMessage())));
                reply.headers().put("x-amzn-ErrorType", type);
                yield reply;
            }
        };
    }
}
