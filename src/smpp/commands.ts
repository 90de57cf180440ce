/** Command ids, statuses and optional parameters of SMPP v3.4 (Issue 1.2) that we speak. */

/** §5.1.2.1 command_id. A response is the request's id with the top bit set. */
export const COMMAND = {
  generic_nack: 0x80000000,
  bind_receiver: 0x00000001,
  bind_receiver_resp: 0x80000001,
  bind_transmitter: 0x00000002,
  bind_transmitter_resp: 0x80000002,
  query_sm: 0x00000003,
  query_sm_resp: 0x80000003,
  submit_sm: 0x00000004,
  submit_sm_resp: 0x80000004,
  deliver_sm: 0x00000005,
  deliver_sm_resp: 0x80000005,
  unbind: 0x00000006,
  unbind_resp: 0x80000006,
  bind_transceiver: 0x00000009,
  bind_transceiver_resp: 0x80000009,
  enquire_link: 0x00000015,
  enquire_link_resp: 0x80000015,
} as const;

export type CommandName = keyof typeof COMMAND;

/** §5.1.3 command_status. */
export const STATUS = {
  ok: 0x00,
  invalid_message_length: 0x01,
  invalid_command_length: 0x02,
  invalid_command_id: 0x03,
  not_bound: 0x04,
  already_bound: 0x05,
  system_error: 0x08,
  invalid_source: 0x0a,
  invalid_destination: 0x0b,
  invalid_message_id: 0x0c,
  bind_failed: 0x0d,
  invalid_password: 0x0e,
  invalid_system_id: 0x0f,
  queue_full: 0x14,
  throttled: 0x58,
  submit_failed: 0x45,
  query_failed: 0x67,
  temporary_app_error: 0x64,
  permanent_app_error: 0x65,
  rejected_by_receiver: 0x66,
} as const;

/** Statuses that pass by themselves: the same text may be tried again later (§5.1.3). Everything else is a final refusal. */
const PASSING: ReadonlySet<number> = new Set([
  STATUS.throttled,
  STATUS.queue_full,
  STATUS.system_error,
  STATUS.temporary_app_error,
  STATUS.not_bound,
  STATUS.bind_failed,
]);
export function isPassing(status: number): boolean {
  return PASSING.has(status);
}

/** Words for a status of §5.1.3, for people. */
export function statusWords(status: number): string {
  switch (status) {
    case STATUS.invalid_source:
      return 'the carrier does not accept this sender';
    case STATUS.invalid_destination:
      return 'the carrier does not accept this number';
    case STATUS.invalid_message_length:
      return 'the carrier says the text is too long';
    case STATUS.submit_failed:
      return 'refused by the carrier';
    case STATUS.not_bound:
      return 'the carrier does not know our line';
    case STATUS.invalid_password:
    case STATUS.invalid_system_id:
    case STATUS.bind_failed:
      return 'the carrier does not accept our sign-in';
    case STATUS.throttled:
    case STATUS.queue_full:
      return 'the carrier asks to slow down';
    case STATUS.system_error:
    case STATUS.temporary_app_error:
      return 'the carrier has trouble of its own';
    default:
      return `refused by the carrier (status 0x${status.toString(16).padStart(8, '0')})`;
  }
}

/** §5.3.2 optional parameters (tag-length-value), with how their value is written. */
export const TLV = {
  receipted_message_id: { tag: 0x001e, type: 'cstring' },
  user_message_reference: { tag: 0x0204, type: 'int16' },
  // §5.3.2.22 to 24: one of several parts, joined by the carrier's own fields instead of a header in the text
  sar_msg_ref_num: { tag: 0x020c, type: 'int16' },
  sar_total_segments: { tag: 0x020e, type: 'int8' },
  sar_segment_seqnum: { tag: 0x020f, type: 'int8' },
  sc_interface_version: { tag: 0x0210, type: 'int8' },
  network_error_code: { tag: 0x0423, type: 'octets' },
  message_payload: { tag: 0x0424, type: 'octets' },
  message_state: { tag: 0x0427, type: 'int8' },
  // In the vendor range 0x1400…0x3FFF (§5.3.2): asks with query_sm for a text by number and our reference
  lookup_number: { tag: 0x1400, type: 'cstring' },
} as const;

export type TlvName = keyof typeof TLV;
export type TlvValues = {
  receipted_message_id?: string;
  user_message_reference?: number;
  sar_msg_ref_num?: number;
  sar_total_segments?: number;
  sar_segment_seqnum?: number;
  sc_interface_version?: number;
  network_error_code?: Uint8Array;
  message_payload?: Uint8Array;
  message_state?: number;
  lookup_number?: string;
};

/** §5.2.28 message_state. */
export const MESSAGE_STATE = {
  ENROUTE: 1,
  DELIVRD: 2,
  EXPIRED: 3,
  DELETED: 4,
  UNDELIV: 5,
  ACCEPTD: 6,
  UNKNOWN: 7,
  REJECTD: 8,
} as const;
export type MessageState = keyof typeof MESSAGE_STATE;
