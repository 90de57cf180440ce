import type { CommandName } from './commands';

export type FieldType = 'int8' | 'short_message' | { cstring: number };
/** name → how it is written; `cstring: n` is a C-octet string of at most n octets with its NUL (§3.1). */
type Layout = Record<string, FieldType>;

const BIND: Layout = {
  system_id: { cstring: 16 },
  password: { cstring: 9 },
  system_type: { cstring: 13 },
  interface_version: 'int8',
  addr_ton: 'int8',
  addr_npi: 'int8',
  address_range: { cstring: 41 },
};
const SHORT_MESSAGE: Layout = {
  service_type: { cstring: 6 },
  source_addr_ton: 'int8',
  source_addr_npi: 'int8',
  source_addr: { cstring: 21 },
  dest_addr_ton: 'int8',
  dest_addr_npi: 'int8',
  destination_addr: { cstring: 21 },
  esm_class: 'int8',
  protocol_id: 'int8',
  priority_flag: 'int8',
  schedule_delivery_time: { cstring: 17 },
  validity_period: { cstring: 17 },
  registered_delivery: 'int8',
  replace_if_present_flag: 'int8',
  data_coding: 'int8',
  sm_default_msg_id: 'int8',
  short_message: 'short_message',
};
const MESSAGE_ID: Layout = { message_id: { cstring: 65 } };
const NOTHING: Layout = {};

const LAYOUTS: Record<CommandName, Layout> = {
  generic_nack: NOTHING,
  bind_receiver: BIND,
  bind_transmitter: BIND,
  bind_transceiver: BIND,
  bind_receiver_resp: { system_id: { cstring: 16 } },
  bind_transmitter_resp: { system_id: { cstring: 16 } },
  bind_transceiver_resp: { system_id: { cstring: 16 } },
  submit_sm: SHORT_MESSAGE,
  deliver_sm: SHORT_MESSAGE,
  submit_sm_resp: MESSAGE_ID,
  deliver_sm_resp: MESSAGE_ID,
  query_sm: { message_id: { cstring: 65 }, source_addr_ton: 'int8', source_addr_npi: 'int8', source_addr: { cstring: 21 } },
  query_sm_resp: { message_id: { cstring: 65 }, final_date: { cstring: 17 }, message_state: 'int8', error_code: 'int8' },
  unbind: NOTHING,
  unbind_resp: NOTHING,
  enquire_link: NOTHING,
  enquire_link_resp: NOTHING,
};

/** The same as lists, in the order in which they are written. */
export const FIELDS = Object.fromEntries(
  Object.entries(LAYOUTS).map(([command, layout]) => [command, Object.entries(layout)]),
) as Record<CommandName, [name: string, type: FieldType][]>;
