package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;
import warden.standin.Faults;
import warden.standin.aws.StandIn;

/** A deployment by the provider's own command line succeeds under the proposed policy, and fails without any one of its statements. */
class TrimmedPoliciesIT {
    private static final String ROLE = "arn:aws:iam::210987654321:role/www-publisher";
    private static final Path CLIENT = Path.of("/usr/bin/aws");
    private static final JsonMapper MAPPER = JsonMapper.builder().build();

    @TempDir
    private Path folder;

    @Test
    void deploysUnderTheProposalAndNotWithoutAnyPartOfIt() throws Exception {
        assumeTrue(Files.isExecutable(CLIENT), "aws is not installed");
        JsonNode policy = MAPPER.readTree(Program.run(
                                "trim", "--survey", Program.DEMO.toString(), "--credential", ROLE, "--format", "json")
                        .out())
                .at("/credentials/0/policy");
        Path site = Files.createDirectory(folder.resolve("site"));
        Files.writeString(site.resolve("index.html"), "<p>new</p>");
        assertThat(deploys(policy, site)).isTrue();
        int statements = policy.get("Statement").size();
        assertThat(statements).isEqualTo(3);
        for (int i = 0; i < statements; i++) {
            ObjectNode less = (ObjectNode) policy.deepCopy();
            ((ArrayNode) less.get("Statement")).remove(i);
            assertThat(deploys(less, site)).as("without statement " + (i + 1)).isFalse();
        }
    }

    private boolean deploys(JsonNode policy, Path site) throws Exception {
        List<String> lines = new ArrayList<>();
        for (String line : Program.demo().lines().toList()) {
            boolean own = line.contains("\"aspect\":\"iam-role\",\"of\":\"" + ROLE + "\"");
            lines.add(own ? TrimCommandTest.withPolicy(line, policy.toString()) : line);
        }
        try (StandIn standIn = Program.standIn(String.join("\n", lines) + "\n", Faults.none(), Clock.systemUTC())) {
            return aws(standIn, "s3", "sync", site.toString(), "s3://heronferry-www-content", "--delete")
                    && aws(
                            standIn,
                            "cloudfront",
                            "create-invalidation",
                            "--distribution-id",
                            "E2WQ7HERONWWW",
                            "--paths",
                            "/*");
        }
    }

    private boolean aws(StandIn standIn, String... arguments) throws IOException, InterruptedException {
        List<String> command = new ArrayList<>(List.of(CLIENT.toString(), "--endpoint-url", standIn.endpoint()));
        command.addAll(List.of(arguments));
        ProcessBuilder builder = new ProcessBuilder(command).redirectErrorStream(true);
        builder.environment()
                .putAll(Map.of(
                        "AWS_ACCESS_KEY_ID", StandIn.keyOf(ROLE),
                        "AWS_SECRET_ACCESS_KEY", "any",
                        "AWS_DEFAULT_REGION", "eu-west-1",
                        "AWS_EC2_METADATA_DISABLED", "true",
                        "AWS_PAGER", "",
                        "HOME", folder.toString(),
                        "PATH", "/usr/bin:/bin"));
        Process process = builder.start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        int code = process.waitFor();
        assertThat(said).doesNotContain("Unable to");
        return code == 0;
    }
}
