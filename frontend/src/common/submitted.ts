import { sayFault } from "./notices";

/**
 * Let the browser save what comes as it comes: a form, since what is fetched would be held whole. It goes to a frame of its own, so that
 * a refusal does not take the place of the page: a file never loads there, a refusal does.
 */
export function submitted(address: string, order: object) {
  const frame = document.createElement("iframe");
  frame.name = `saving-${Date.now()}`;
  frame.hidden = true;
  document.body.append(frame);
  const form = document.createElement("form");
  form.method = "post";
  form.action = address;
  form.target = frame.name;
  form.hidden = true;
  const field = document.createElement("input");
  field.name = "order";
  field.value = JSON.stringify(order);
  form.append(field);
  document.body.append(form);
  frame.addEventListener("load", () => sayFault(new Error("This could not be saved: a picture of it is gone, or the order was refused. Open it again from the desk.")));
  form.submit();
  form.remove();
}
