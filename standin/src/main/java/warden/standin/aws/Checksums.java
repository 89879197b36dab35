package warden.standin.aws;

import java.nio.ByteBuffer;
import java.security.MessageDigest;
import java.util.Base64;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.CRC32;
import java.util.zip.CRC32C;
import java.util.zip.Checksum;
import warden.standin.Refusal;

/**
 * Checks that a body is what its sender says of it. Source: S3 User Guide, "Checking object integrity in Amazon S3"; S3 API Reference, PutObject,
 * Content-MD5 and x-amz-content-sha256.
 */
final class Checksums {
    private static final String PREFIX = "x-amz-checksum-";
    private static final List<String> ALGORITHMS = List.of("crc32", "crc32c", "crc64nvme", "sha1", "sha256");
    private static final long CRC64_NVME = 0x9A6C9329AC4BC9B5L;
    private static final long[] TABLE = table();

    private Checksums() {}

    /**
     * Refuses a body that is not what its headers and trailers say, and returns the checksums that were said, by header name.
     *
     * @throws Refusal in the provider's words
     */
    static Map<String, String> demandRight(Call call) {
        byte[] body = call.body();
        call.header("content-md5").ifPresent(said -> {
            byte[] digest = decoded(said).filter(bytes -> bytes.length == 16).orElseThrow(() -> invalid("Content-MD5"));
            if (!MessageDigest.isEqual(digest, Digests.of("MD5", body))) {
                throw new Refusal(400, "BadDigest", "The Content-MD5 you specified did not match what we received.");
            }
        });
        call.header("x-amz-content-sha256")
                .filter(said -> said.matches("[0-9a-fA-F]{64}"))
                .filter(said -> !said.equalsIgnoreCase(HexFormat.of().formatHex(Digests.of("SHA-256", body))))
                .ifPresent(said -> {
                    throw new Refusal(
                            400,
                            "XAmzContentSHA256Mismatch",
                            "The provided 'x-amz-content-sha256' header does not match what was computed.");
                });
        Map<String, String> said = new LinkedHashMap<>();
        for (String algorithm : ALGORITHMS) {
            String name = PREFIX + algorithm;
            Optional.ofNullable(call.trailers().get(name))
                    .or(() -> call.header(name))
                    .ifPresent(value -> {
                        byte[] sent = decoded(value).orElseThrow(() -> invalid(name));
                        if (!MessageDigest.isEqual(sent, computed(algorithm, body))) {
                            throw new Refusal(
                                    400,
                                    "BadDigest",
                                    "The " + algorithm.toUpperCase(java.util.Locale.ROOT)
                                            + " you specified did not match the calculated checksum.");
                        }
                        said.put(name, value);
                    });
        }
        return said;
    }

    private static Refusal invalid(String name) {
        return new Refusal(400, "InvalidRequest", "Value for " + name + " header is invalid.");
    }

    private static Optional<byte[]> decoded(String text) {
        try {
            return Optional.of(Base64.getDecoder().decode(text.strip()));
        } catch (IllegalArgumentException notEncoded) {
            return Optional.empty();
        }
    }

    private static byte[] computed(String algorithm, byte[] body) {
        return switch (algorithm) {
            case "crc32" -> four(new CRC32(), body);
            case "crc32c" -> four(new CRC32C(), body);
            case "crc64nvme" ->
                ByteBuffer.allocate(Long.BYTES).putLong(crc64(body)).array();
            case "sha1" -> Digests.of("SHA-1", body);
            default -> Digests.of("SHA-256", body);
        };
    }

    private static byte[] four(Checksum sum, byte[] body) {
        sum.update(body);
        return ByteBuffer.allocate(Integer.BYTES).putInt((int) sum.getValue()).array();
    }

    /** The platform has no checksum of 64 bits. Source: NVM Express NVM Command Set Specification, section "64b CRC Polynomials". */
    static long crc64(byte[] body) {
        long crc = ~0L;
        for (byte each : body) {
            crc = TABLE[(int) ((crc ^ each) & 0xFF)] ^ crc >>> 8;
        }
        return ~crc;
    }

    private static long[] table() {
        long[] table = new long[256];
        for (int i = 0; i < table.length; i++) {
            long crc = i;
            for (int bit = 0; bit < 8; bit++) {
                crc = (crc & 1) == 1 ? crc >>> 1 ^ CRC64_NVME : crc >>> 1;
            }
            table[i] = crc;
        }
        return table;
    }
}
